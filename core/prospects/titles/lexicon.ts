/**
 * The words of job titles in the languages that lists come in: English, German, French, Spanish,
 * Italian, Portuguese, Dutch, Polish and the Nordic ones, with some Czech, Hungarian, Romanian and
 * Turkish. Words are folded (fold.ts). A line is "name: forms"; the name is a form, too.
 */
import type { Seniority } from "../seniority.ts";

/** What a role is to those who look for people: its rank, and the roles that count as the same. */
export interface Role {
  name: string;
  rank: Seniority;
  counts: readonly string[];
}

export type Concept =
  | { kind: "role"; role: Role }
  | { kind: "field"; field: string }
  /** Lowers whoever stands beside it: "deputy head", "vice director". */
  | { kind: "deputy" }
  | { kind: "junior" }
  /** Says how far or how long, and not what: "senior", "regional", "interim". */
  | { kind: "scope" }
  /** Not now: "former", "retired", "aspiring". */
  | { kind: "not_now" }
  /** What follows is whom they work for or what they lead: "to", "of", "der". */
  | { kind: "preposition"; isOf: boolean }
  | { kind: "and" };

/** Abbreviations and words that stand for a whole title, in plain English words of this lexicon. */
const ALIASES = `
managing director: md|ceo|chief executive officer|chief executive|chief exec|general manager|executive director|geschaftsfuhrer|geschaftsfuhrerin|geschaftsfuhrender direktor|geschaftsfuhrende direktorin|geschaftsfuhrung|geschaftsleiter|geschaftsleitung|hauptgeschaftsfuhrer|vorstandsvorsitzender|vorstandsvorsitzende|pdg|president directeur general|directeur general|directrice generale|director general|directora general|director gerente|directora gerente|gerente general|consejero delegado|consejera delegada|amministratore delegato|amministratrice delegata|direttore generale|direttrice generale|amministratore unico|diretor geral|diretora geral|administrador delegado|diretor executivo|diretora executiva|director executivo|director ejecutivo|directora ejecutiva|algemeen directeur|directeur eigenaar|statutair directeur|prezes|prezes zarzadu|dyrektor generalny|dyrektor zarzadzajacy|verkstallande direktor|vd|administrerende direktor|adm direktor|adm dir|daglig leder|toimitusjohtaja|jednatel|generalni reditel|generalny riaditel|ugyvezeto|ugyvezeto igazgato|vezerigazgato|genel mudur|director executiv|gerant|gerante|framkvaemdastjori|tegevjuht|direktor zarzadu
chief finance officer: cfo|chief financial officer|finanzvorstand|finanzchef|directeur administratif et financier|daf|economische directeur|finanzvorstandin
chief technology officer: cto|chief technical officer|technikvorstand
chief operations officer: coo|chief operating officer
chief marketing officer: cmo|marketingvorstand
chief it officer: cio|chief information officer
chief security officer: ciso|cso|chief information security officer
chief hr officer: chro|chief people officer|chief human resources officer|personalvorstand|arbeitsdirektor
chief revenue officer: cro
chief sales officer: vertriebsvorstand|chief commercial officer|cco
chief product officer: cpo
chief data officer: cdo
chief digital officer
chief legal officer: clo
hr director: drh|directeur des ressources humaines|directrice des ressources humaines
it director: dsi|directeur des systemes d information|directrice des systemes d information
vice president: vp|svp|evp|avp|rvp|senior vice president|executive vice president|vicepresident|vizeprasident|vizeprasidentin|vice presidente|vicepresidente|vice president
human resources: hr|people|people and culture|talent|personnel|personal|personalwesen|personalabteilung|ressources humaines|rh|recursos humanos|rrhh|risorse umane|personeel|personeelszaken|zasobow ludzkich|kadr|kadry|henkilosto|hr ja|lidskych zdroju|lidske zdroje|humaneroforras|insan kaynaklari|resurse umane|personale|medarbejder og kultur
executive assistant: pa|ea|personal assistant|assistante de direction|assistant de direction|secretaria de direccion|asistente de direccion|assistente di direzione|secretaria executiva|direktionsassistent|direktionsassistentin|vorstandsassistent|vorstandsassistentin|geschaftsleitungsassistentin|chefsekretarin|directiesecretaresse|management assistant|managementassistente|asystentka zarzadu|asystent zarzadu|direktionssekretar|vd assistent
project manager: chef de projet|cheffe de projet|jefe de proyecto|jefa de proyecto|jefe de proyectos|project lead|projektleiter|projektleiterin|projectleider|projektledare|projektleder|prosjektleder|kierownik projektu|capo progetto|gestor de projetos|projektipaallikko|project leader|chefe de projeto
product manager: chef de produit|cheffe de produit|jefe de producto|jefa de producto
store manager: marktleiter|filialleiter|filialleiterin|butikschef|bedrijfsleider|shop manager
account manager: key account manager|kam|kundenbetreuer|kundenberater|grosskundenbetreuer|charge de clientele|responsable de compte|responsable de cuentas|gestor de contas|gestor de cuentas|accountmanager|kundansvarig
sales representative: sales rep|salesperson|salesman|saleswoman|sales executive|vertriebsmitarbeiter|aussendienstmitarbeiter|handelsvertreter|vertreter|vertriebsreferent|vertriebsbeauftragter|commercial itinerant|technico commercial|representante de ventas|agente comercial|agente di commercio|vertegenwoordiger|przedstawiciel handlowy|saljare|saelger|selger|myyja|vendedor|vendedora|asesor comercial|representante comercial|obchodni zastupce|business development representative|sales development representative|sdr|bdr|account executive
software developer: software engineer|swe|programmer|ingenieur logiciel|ingeniero de software|softwareingenieur
works council: betriebsrat
`;

/** "rank name = counts as": forms. Without "=" a role counts as itself. */
const ROLES = `
owner owner: co owner|business owner|inhaber|inhaberin|eigentumer|eigentumerin|proprietor|proprietaire|propietario|propietaria|dueno|duena|proprietario|proprietaria|titolare|eigenaar|eigenares|wlasciciel|wlascicielka|agare|ejer|indehaver|eier|omistaja|majitel|majitelka|tulajdonos|sahibi|sahip|proprietar|dono|dona
owner founder: co founder|cofounder|founding partner|grunder|grunderin|mitgrunder|mitgrunderin|fondateur|fondatrice|cofondateur|cofondatrice|fundador|fundadora|cofundador|cofundadora|fondatore|fondatrice|cofondatore|oprichter|medeoprichter|oprichtster|zalozyciel|zalozycielka|wspolzalozyciel|grundare|medgrundare|stifter|medstifter|grunnlegger|medgrunder|perustaja|zakladatel|alapito|kurucu|kurucu ortak|fondator|socio fundador|socia fundadora|socio fondatore
executive managing director
executive chief
executive president: prasident|prasidentin|presidente|presidenta|presidentka|baskan
executive chair: chairman|chairwoman|chairperson|vorsitzender|vorsitzende|aufsichtsratsvorsitzender|styrelseordforande|bestyrelsesformand|styreleder|voorzitter|przewodniczacy
executive board member: vorstand|vorstandin|vorstandsmitglied|member of the board|board of directors|non executive director|ned|membre du directoire|membro do conselho|consejero|consejera|consigliere|bestuurder|bestuurslid|czlonek zarzadu|styrelseledamot|bestyrelsesmedlem|styremedlem|hallituksen jasen|aufsichtsrat|beirat|trustee|prokurist|prokuristin|general counsel|leitender angestellter
executive vice president
executive partner: managing partner|senior partner|gesellschafter|gesellschafterin|associe|associee|socio|socia|vennoot|wspolnik|delagare
head director = head: direktor|direktorin|directeur|directrice|directora|diretor|diretora|direttore|direttrice|dyrektor|dyrektorka|direktr|direktoer|johtaja|reditel|reditelka|riaditel|igazgato|igazgatoja|direktore|mudur|direktoren
head head: hd|head of department|department head|bereichsleiter|bereichsleiterin|abteilungsleiter|abteilungsleiterin|ressortleiter|hauptabteilungsleiter|chef de service|cheffe de service|chef de departement|jefe de departamento|jefa de departamento|chefe de departamento|capo dipartimento|afdelingshoofd|hoofd|afdelingschef|avdelningschef|avdelingsleder|osastopaallikko|sef departament|dirigente|principal|dean|dekan|rektor|rektorin|schulleiter
head leader = head manager: leiter|leiterin|leitung|leitende|leitender|lead|leider|leder|ledare|chef|chefin|cheffe|sjef|paallikko|chefe|jefe|jefa|capo|vedouci|veduci|vezeto|vezetoje|sef|sefa|kierownik|kierowniczka|naczelnik|standortleiter|werkleiter|werksleiter|betriebsleiter|juht|stjori
manager manager: mgr|mngr|managerin|gestor|gestora|manageren|menedzer|menedzser|menadzer|manazer|manazerka|yonetici|yoneticisi|gerenta
manager responsible = manager head: responsable|responsabile|responsavel|gerente|verantwortlicher|verantwortliche|verantwoordelijke|ansvarig|ansvarlig|vastaava|encargado|encargada|incharge
manager supervisor = supervisor manager: supervisora|superviseur|vorarbeiter|meister|meisterin|foreman|capataz|encargado de turno|caposquadra|werkmeister|formand
manager team lead = team lead manager: team leader|teamlead|teamleiter|teamleiterin|teamleider|teamleder|gruppenleiter|gruppenleiterin|chef d equipe|jefe de equipo|capo squadra|lider zespolu|teamledare|gruppchef|tiiminvetaja|lider de equipo
manager chief of staff
manager product owner
manager controller: controllerin|controleur de gestion|controleuse de gestion
manager project manager = project manager manager
manager product manager = product manager manager
manager store manager = store manager manager
specialist account manager
specialist office manager = office manager
specialist case manager
specialist community manager
specialist scrum master
specialist art director: creative director|directeur artistique|directrice artistique|director de arte|direttore artistico|diretor de arte
specialist funeral director
specialist music director
specialist casting director
specialist sales representative
specialist business partner: hr business partner|hrbp
specialist officer: officier|oficial|referent|referentin|beauftragter|beauftragte|charge|chargee|funcionario
specialist executive
specialist specialist: spezialist|spezialistin|specialiste|especialista|specialista|specjalista|specjalistka|asiantuntija|expert|experte|expertin|experto|fachkraft|fachberater
specialist representative: rep|representant|representante|rappresentante|agent|agente|ambassador
specialist coordinator: coord|koordinator|koordinatorin|coordinateur|coordinatrice|coordinador|coordinadora|coordenador|coordenadora|coordinatore|koordynator|koordynatorka|koordinaattori|samordnare
specialist analyst: analystin|analyste|analista|analityk|analytiker|analytikerin|analyytikko|analitik
specialist consultant: consultante|consultor|consultora|consulente|berater|beraterin|konsultant|konsultantka|konsult|konsulent|konsultti|unternehmensberater|conseil|conseiller|conseillere
specialist advisor: adviser|adviseur|asesor|asesora|radgiver|radgivare|doradca|neuvonantaja|mentor|coach
specialist engineer: eng|ingenieur|ingenieurin|ingenieure|ingeniero|ingeniera|ingegnere|engenheiro|engenheira|inzynier|ingenjor|ingenior|insinoori|inzenyr|mernok|muhendis|inginer
specialist developer: dev|entwickler|entwicklerin|developpeur|developpeuse|desarrollador|desarrolladora|desenvolvedor|desenvolvedora|sviluppatore|ontwikkelaar|programista|utvecklare|udvikler|utvikler|kehittaja|vyvojar|fejleszto|programador
specialist architect: architekt|architektin|architecte|arquitecto|arquitecta|architetto|arquiteto|arkitekt|arkkitehti
specialist designer: gestalter|gestalterin|disenador|disenadora|grafiker|grafikerin|graphiste|grafico|projektant
specialist scientist: wissenschaftler|wissenschaftlerin|scientifique|cientifico|cientifica|scienziato|naukowiec|forskare|forsker|tutkija
specialist researcher: forscher|forscherin|chercheur|chercheuse|investigador|investigadora|pesquisador|pesquisadora|ricercatore|ricercatrice|onderzoeker|badacz
specialist accountant: buchhalter|buchhalterin|bilanzbuchhalter|comptable|expert comptable|contable|contador|contadora|contabilista|contabile|boekhouder|ksiegowy|ksiegowa|glowny ksiegowy|revisor|bokforare|kirjanpitaja|bookkeeper|steuerberater|steuerberaterin|ucetni|konyvelo|muhasebeci
specialist buyer: einkaufer|einkauferin|acheteur|acheteuse|comprador|compradora|inkoper|kupiec|inkopare|indkober|innkjoper|ostaja|strategischer einkaufer|nakupci
specialist planner: disponent|disponentin|planificador|planer|merchandiser
specialist technician: techniker|technikerin|technicien|technicienne|tecnico|tecnica|technicus|technik serwisu|tekniker|teknikko
specialist clerk: sachbearbeiter|sachbearbeiterin|angestellter|employe|employee|empleado|impiegato|medewerker|medewerkster|mitarbeiter|mitarbeiterin|pracownik|medarbejder|medarbeider|medarbetare|kaufmann|kauffrau|burokaufmann|staff|worker
specialist administrator: admin|administrateur|administrador|administradora|amministratore|beheerder
specialist editor: redakteur|redakteurin|redacteur|redactrice|redactor|redattore|redaktor
specialist writer: texter|autor|copywriter|redactor publicitario
specialist lawyer: attorney|solicitor|counsel|legal counsel|rechtsanwalt|rechtsanwaltin|jurist|juristin|syndikus|juriste|avocat|avocate|abogado|abogada|advogado|advogada|avvocato|advocaat|prawnik|radca prawny|jurista|lakimies|pravnik|avukat|paralegal|notary|notar
specialist auditor: prufer|wirtschaftsprufer|auditeur|revisore
specialist recruiter: recruteur|recruteuse|reclutador|talent acquisition|personalreferent|personalreferentin|personalvermittler|headhunter|rekrytare|rekruter
specialist trainer: formateur|formatrice|formador|formatore|instructor|schulungsleiter
specialist teacher: lehrer|lehrerin|professeur|enseignant|profesor|profesora|professor|professora|docente|lecturer|dozent|dozentin|leraar|nauczyciel|larare
specialist secretary: sekretar|sekretarin|secretaire|secretario|secretaria|segretaria|segretario|secretaresse|sekretarka|sekreterare
specialist receptionist: empfang|standardiste|receptioniste|recepcionista
specialist nurse: krankenschwester|pfleger|infirmier|infirmiere|enfermero|enfermera|enfermeiro|infermiere|verpleegkundige
specialist doctor: physician|arzt|arztin|medecin|medico|medica|lekarz
specialist pharmacist: apotheker|apothekerin|pharmacien
specialist therapist: psychologist|psychologe
specialist registrar: registrarin|loans officer|loans coordinator|loans registrar
specialist curator: kurator|kuratorin|conservateur|conservatrice|curador|curadora|curatore|curatrice|kustos|kustodin|kustosz|intendent|kuraattori|comisario|comisaria
specialist conservator: restorer|restaurator|restauratorin|restaurateur|restauratrice|restaurador|restauradora|restauratore|konservator|conservador restaurador|konservaattori
specialist keeper = keeper head
specialist archivist: archivar|archivarin|archiviste|archivero|archivera|archivista|arquivista|archivaris|archiwista|arkivarie|arkivar|arkistonhoitaja|records manager
specialist librarian: bibliothekar|bibliothekarin|bibliothecaire|bibliotecario|bibliotecaria|bibliothecaris|bibliotekarz|bibliotekarie|bibliotekar|kirjastonhoitaja
specialist educator: padagoge|museumspadagoge|mediateur|mediatrice|educador|educadora
specialist photographer: fotograf|fotografin|photographe|fotografo
specialist conservation scientist
specialist strategist: stratege
specialist marketer
specialist operator: bediener|operateur|operador|operatore
specialist driver: fahrer|chauffeur|conductor
specialist student: studentin|etudiant|etudiante|estudiante|estudante|studente
specialist freelancer: freelance|self employed|selbststandig|freiberufler|independant|autonomo|independente|zzp
specialist speaker: author|blogger|podcaster|influencer|evangelist
junior assistant: asst|assistent|assistentin|assistante|asistente|assistente|asystent|asystentka|avustaja|assistenten|aide|helper|aushilfe|asistent|asistentka|auxiliar|auxiliaire|ayudante
junior executive assistant = assistant
junior intern: internship|trainee|apprentice|praktikant|praktikantin|werkstudent|werkstudentin|auszubildender|auszubildende|azubi|volontar|volontarin|stagiaire|alternant|alternante|alternance|apprenti|apprentie|becario|becaria|practicante|tirocinante|stagista|apprendista|estagiario|estagiaria|aprendiz|stagiair|stazysta|stazystka|praktykant|praktykantka|harjoittelija|larling|lehrling|volunteer|ehrenamtlich|benevole|voluntario|stazista|gyakornok|stajyer|hilfskraft|working student|graduate|elev
`;

const FIELDS = `
sales: sale|selling|vertrieb|vertriebs|verkauf|verkaufs|vente|ventes|commercial|commerciale|comercial|ventas|vendas|vendite|verkoop|sprzedazy|sprzedaz|handlowy|handlowa|handlowych|handlu|forsaljning|forsaljnings|salg|salgs|myynti|myynnin|prodej|prodeje|obchod|obchodu|obchodni|ertekesitesi|ertekesites|satis|vanzari|revenue|absatz|aussendienst|innendienst|vertriebsinnendienst|vertriebsaussendienst|inside sales|field sales|new business|sell
marketing: mktg|mkt|mercadeo|mercadotecnia|marketingu|marketingowy|marknad|marknads|marknadsforing|marked|markeds|markedsforing|markkinointi|markkinoinnin|pazarlama|demand generation|lead generation|growth marketing|performance marketing|performance|product marketing|produktmarketing|content marketing|digital marketing|online marketing|email marketing|field marketing|trade marketing|brand marketing
finance: fin|financial|finanzen|finanz|financier|financiere|finances|finanzas|financiero|financiera|financas|financeiro|financeira|finanza|finanziario|finanziaria|financien|financieel|finanse|finansow|finansowy|finansowa|finans|ekonomi|okonomi|okonomisk|talous|talouden|financni|financi|penzugyi|finante|financiar|administration and finance|treasury
accounting: accounts|buchhaltung|rechnungswesen|comptabilite|contabilidad|contabilidade|contabilita|boekhouding|ksiegowosci|ksiegowosc|redovisning|regnskab|regnskap|bokforing|kirjanpito|muhasebe|payroll|lohnbuchhaltung|finanzbuchhaltung|accounts payable|accounts receivable|kreditoren|debitoren
controlling: controle de gestion
hr: human resources
recruiting: recruitment|personalgewinnung|recrutement|seleccion|recrutamento|werving|rekrutacji
it: information technology|informatik|edv|informatique|systemes d information|si|informatica|tecnologias de la informacion|tecnologia da informacao|ti|sistemas|ict|informatyki|tietohallinto|systems|information systems|informationstechnik|it systems|it infrastructure|infrastructure|infrastruktur|network|netzwerk|cloud
technology: tech|technical|technik|technique|tecnica|technisch|technische|technischer|tecnologia|techniek|techniczny|techniczna|teknik|teknisk|tekninen|technicky|muszaki|teknologi
operations: ops|operating|operational|operaciones|operacoes|operazioni|operacyjny|operacyjna|betrieb|exploitation|operationnel|drift|drifts|operatief|business operations|operative|operatives|revenue operations|revops|sales operations|sales ops|marketing operations|tuotantotoiminta
procurement: purchasing|purchase|buying|sourcing|einkauf|einkaufs|beschaffung|achats|achat|compras|acquisti|inkoop|zakupow|zakupy|inkop|inkops|indkob|indkobs|innkjop|innkjops|osto|hankinta|nakup|nakupu|beszerzesi|beszerzes|satin alma|achizitii|aprovisionamiento|approvisionnement|vendor management|category management
legal: law|recht|rechts|rechtsabteilung|juridique|juridico|juridica|legale|juridisch|juridische|juridische zaken|prawny|prawnych|juridik|juridisk|affaires juridiques|lakiasiat|jogi
engineering: ingenierie|ingenieria|konstruktion|engenharia|ingegneria|inzynierii
production: manufacturing|produktion|produktions|fertigung|fertigungs|fabrication|produccion|producao|produzione|productie|produkcji|produkcja|tuotanto|tillverkning|plant|werk|usine|planta|fabrica|stabilimento|fabriek|vyroba|vyroby|termelesi|uretim|factory|productia
maintenance: instandhaltung|wartung|mantenimiento|manutencao|manutenzione|onderhoud|utrzymania ruchu|underhall|vedligehold|vedlikehold|kunnossapito
logistics: logistik|logistique|logistica|logistiek|logistyki|logistikk|logistiikka|logistyka|logistiky|lojistik|supply chain|supplychain|transport|warehouse|lager|warehousing|fulfilment|fulfillment|shipping|spedition|supply|distribution|magazzino|magazynu
quality: qualitat|qualitats|qualitatssicherung|qualitatsmanagement|qualite|calidad|qualidade|qualita|kwaliteit|kwaliteits|jakosci|kvalitet|kvalitets|laatu|qa|qm|qs|quality assurance|quality management|quality control|kvality|minosegugyi|kalite
product: products|produkt|produit|produits|producto|productos|produto|produtos|prodotto|produktu|product management|produktmanagement|tuote
project: projects|projekt|projekte|projet|projets|proyecto|proyectos|projeto|projetos|progetto|progetti|projektu|projektow|prosjekt|pmo|programme|program|project management|projektmanagement
communications: communication|comms|kommunikation|kommunikations|unternehmenskommunikation|comunicacion|comunicacao|comunicazione|communicatie|komunikacji|kommunikasjon|kommunikasjons|viestinta|pr|public relations|offentlichkeitsarbeit|presse|press|medien|media relations|corporate communications|relations publiques|komunikace|external affairs
customer service: customer support|customer success|customer care|client services|client success|kundenservice|kundendienst|kundenbetreuung|service client|relation client|atencion al cliente|servicio al cliente|atendimento ao cliente|apoio ao cliente|servizio clienti|assistenza clienti|klantenservice|obslugi klienta|kundtjanst|kundeservice|asiakaspalvelu|customer experience|cx|support|service desk|helpdesk|zakaznicky servis|ugyfelszolgalat|csm|customer relations|after sales|service apres vente
security: information security|it security|cybersecurity|cyber security|cyber|informationssicherheit|sicherheit|securite|seguridad|seguranca|sicurezza|beveiliging|bezpieczenstwa|sakerhet|sikkerhed|sikkerhet
data: daten|donnees|datos|dados|dati|danych|analytics|business intelligence|bi|big data|data science|machine learning|ai|ml
data protection: datenschutz|privacy|dpo|protection des donnees|proteccion de datos
research: r and d|rd|r d|research and development|forschung|forschung und entwicklung|entwicklung|entwicklungs|recherche|recherche et developpement|investigacion|investigacion y desarrollo|i d|pesquisa|ricerca|ricerca e sviluppo|onderzoek|badan|badan i rozwoju|rozwoju|forskning|utveckling|udvikling|utvikling|tutkimus|development|sviluppo|desarrollo|ontwikkeling
business development: bd|bizdev|geschaftsentwicklung|developpement commercial|developpement des affaires|desarrollo de negocio|desarrollo de negocios|sviluppo business|desenvolvimento de negocios|rozwoju biznesu|affarsutveckling|forretningsutvikling|forretningsudvikling|liiketoiminnan kehitys|partnerships|alliances|channel|is gelistirme
design: ux|ui|user experience|graphic|graphic design|diseno|creative|kreation|creation
strategy: strategic|strategie|strategisch|estrategia|strategia|strategii|strategi
administration: administrative|verwaltung|verwaltungs|administratif|administrative|administracion|administrativo|administrativa|administracao|amministrazione|amministrativo|administratie|administracji|administracyjny|hallinto|back office
office: buro|bureau|oficina|ufficio|kantoor|biuro|biura|kontor
facilities: facility|facility management|gebaude|gebaudemanagement|haustechnik|building|buildings|estates|estate|instalaciones|instalacoes|services generaux|servicios generales|obiektow|fastigheter|fastighets|ejendomme|eiendom|kiinteisto|housing|workplace
real estate: property|immobilien|immobilier|inmobiliaria|imobiliario|immobiliare|vastgoed|nieruchomosci
health and safety: hse|ehs|hseq|qhse|safety|arbeitssicherheit|prevencion
collections: collection|sammlung|sammlungen|sammlungs|coleccion|colecciones|colecao|colecoes|collezioni|collezione|collectie|collecties|zbiorow|samling|samlings|samlingar|samlinger|kokoelma|kokoelmat|collections management|collections care
registration: registrars|loans|leihverkehr|prets|prestamos
archives: archive|archiv|archivo|archivos|arquivo|arquivos|archivio|archivi|archief|archiwum|arkiv|arkisto|records
conservation: restaurierung|konservierung|restauration|conservacion|restauracion|conservacao|restauro|conservazione|restauratie|konserwacji|konservering|preservation
exhibitions: exhibition|ausstellung|ausstellungen|exposition|expositions|exposiciones|exposicoes|mostre|tentoonstellingen|wystaw|utstallning|utstallningar|udstillinger|utstillinger|nayttelyt
education: bildung|vermittlung|mediation|educacion|educacao|educazione|educatie|edukacji|utbildning|learning|academic
training: learning and development|l and d|weiterbildung|ausbildung|formation|formacion|formacao|formazione|opleiding|szkolen|schulung
library: bibliothek|bibliotheque|biblioteca|bibliotheek|biblioteki|bibliotek|kirjasto|special collections
museum: musee|museo|museu|muzeum|museet|museums|gallery|galerie
visitor services: visitor experience|visitors|besucherservice|publics|front of house
e commerce: ecommerce|ecom|online|onlinehandel|webshop|commerce electronique|comercio electronico|verkkokauppa
digital: digitalisation|digitalisierung|digital transformation|transformacion digital|numerique|transformation digitale|transformation|digitale|cyfrowy
content: inhalte|contenu|contenido|conteudo|contenuti|tresci|editorial|redaktion
social media: social|redes sociales|community
brand: branding|marque|marca|marke|merk|marki|marken
growth: wachstum|croissance
compliance: conformite|cumplimiento|regulatory|regulatory affairs|zulassung|affaires reglementaires
risk: risiko|risque|risques|riesgos|risco|rischi|risk management
tax: steuern|steuer|fiscal|fiscalite|impuestos|imposte|belastingen|podatkow
audit: internal audit|revision|auditoria|innenrevision
events: event|veranstaltungen|veranstaltungs|evenementiel|evenements|eventos|eventi|evenementen|conference
retail: einzelhandel|store|stores|shop|filiale|detail
export: exporte|exportacion|export sales|international sales
investor relations: relations investisseurs
innovation: innovacion|inovacao|innovazione|innovatie|innowacji
sustainability: nachhaltigkeit|esg|csr|developpement durable|rse|sostenibilidad|sustentabilidade|sostenibilita|duurzaamheid|hallbarhet|baeredygtighed|baerekraft|kestava kehitys|environment|environmental|umwelt|energy|energie
software: software development|softwareentwicklung|logiciel|backend|frontend|full stack|fullstack|web|mobile|devops|platform
medical: medizin|clinical|klinisch|pflege|nursing|scientific affairs
construction: bau|bauleitung|travaux|obras|cantiere|bouw|budowy|civil|structural|mechanical|mechanik|electrical|elektro|maschinenbau|hydraulic|process
fundraising: development office|spenden|mecenat|mecenazgo|membership|philanthropy|donors|grants
hospitality: hotel|restaurant|catering|food and beverage|f and b|housekeeping|gastronomie
pricing: pricing
accounts: account|key account|key accounts|grands comptes|grandes cuentas
art: kunst|arte|kunstlerisch
`;

const MODIFIERS: Record<Exclude<Concept["kind"], "role" | "field" | "preposition">, string> = {
  deputy: `deputy|dep|vice|vize|stellvertretender|stellvertretende|stellvertreter|stellvertreterin|stv|stellv|vertreter des|adjoint|adjointe|adj|sous|subdirector of|subdirector|subdirectora|vicedirettore|vicedirettrice|vicedirector|vicedirectora|vicechef|vice director|sub|adjunto|adjunta|adjunct|plaatsvervangend|waarnemend|zastepca|zastepczyni|bitradande|stallforetradande|vicevardsdirektor|stedfortraedende|nestleder|assisterende|varajohtaja|apulaisjohtaja|apulais|varatoimitusjohtaja|zastupce|helyettes|yardimcisi|viceadministrerende|souschef|substituto|2ic|second in command`,
  junior: "junior|jr|entry level|nachwuchs|berufseinsteiger|debutant",
  scope: `senior|sr|snr|staff|regional|reg|region|regionaler|regionale|area|territory|territorial|national|nationaler|country|global|worldwide|international|internationaler|group|gruppen|groupe|grupo|gruppo|corporate|general|europe|european|europa|emea|apac|dach|latam|americas|north america|uk|us|usa|eu|nordics|benelux|district|zone|site|local|central|department|dept|team|division|divisional|unit|business unit|section|abteilung|bereich|fachbereich|ressort|dipartimento|departamento|departement|dział|dzialu|afdeling|avdelning|interim|acting|ad interim|a i|kommissarischer|kommissarische|provisorisch|par interim|en funciones|global head|associate|assoc|certified|qualified|dipl|diplom|independent|freelance|part time|full time|enterprise|commercial sector|smb|b2b|b2c|company|unternehmen|empresa|firma|the|a|an|i|ii|iii|iv|m w d|w m d|m f d|f m d|mwd|gn|all genders|h f|f h|m f|strategic accounts|key|operativ|zentrale|zentraler|ost|west|nord|sud|north|south|east|spolki|zarzadzajacy|zarzadu|museum`,
  not_now: `was|were|once|no longer|not any more|nicht mehr|former|formerly|ex|previously|previous|past|retired|ret|emeritus|emerita|late|outgoing|ehemaliger|ehemalige|ehemals|ehem|vormals|fruher|fruherer|a d|im ruhestand|pensioniert|rentner|ancien|ancienne|anciennement|retraite|retraitee|antiguo|antigua|anterior|jubilado|jubilada|exdirector|exdirectora|antigo|antiga|aposentado|aposentada|gia|pensionato|in pensione|voormalig|voormalige|gepensioneerd|byly|byla|emerytowany|tidigare|pensionerad|tidligere|pensjonert|entinen|elakkeella|eski|emekli|fost|volt|aspiring|future|wannabe|prospective|candidate|seeking|looking for|open to work|angehender|angehende|zukunftiger|kunftiger|kunftige|futur|future|futuro|futura|aspirante|en recherche|en busca de|in cerca di|toekomstig|przyszly|blivande|kommende|tuleva|designate|elect|want to be|hopeful|unemployed|arbeitssuchend|in transition`,
  and: "and|und|et|y|e|ed|en|i|och|og|ja|si|ve|plus|sowie|as well as|u|a zaroven|n",
};

/** "of": what follows is the field. The others: what follows is somebody else, or whom they serve. */
const OF =
  "of|von|vom|de|del|della|dello|dei|degli|delle|di|do|da|dos|das|des|du|d|van|voor|af|fur|for|for the|pour|para|per|av|til|ds|do spraw|i sprawach|der|dem|den|im|in|within|la|le|l|les|el|los|las|zu|zum|zur|ao|a la|au|aux|al|het|de la";
const TO =
  "to|to the|reporting to|report to|supporting|under|with|working with|on behalf of|assisting|office of|helping|help|advising|serving|i help|ich helfe|bei|at|chez|hos|u boku";

function linesOf(text: string): [string, string[]][] {
  return text
    .trim()
    .split("\n")
    .map((line) => {
      const [name = "", forms = ""] = line.split(": ");
      return [name, forms === "" ? [] : forms.split("|")];
    });
}

/** Every phrase of the lexicon (folded words with single spaces) with what it means. Earlier lines win. */
export const PHRASES: ReadonlyMap<string, Concept> = (() => {
  const phrases = new Map<string, Concept>();
  const add = (phrase: string, concept: Concept) => {
    if (phrase !== "" && !phrases.has(phrase)) phrases.set(phrase, concept);
  };
  for (const [head, forms] of linesOf(ROLES)) {
    const [, rank = "", name = "", counts = ""] = head.match(/^(\S+) (.*?)(?: = (.*))?$/) ?? [];
    const role: Role = { name, rank: rank as Seniority, counts: counts === "" ? [name] : rolesIn(counts) };
    for (const form of [name, ...forms]) add(form, { kind: "role", role });
  }
  for (const [field, forms] of linesOf(FIELDS))
    for (const form of [field, ...forms]) add(form, { kind: "field", field });
  for (const [kind, forms] of Object.entries(MODIFIERS))
    for (const form of forms.split("|")) add(form, { kind: kind as "deputy" });
  for (const form of OF.split("|")) add(form, { kind: "preposition", isOf: true });
  for (const form of TO.split("|")) add(form, { kind: "preposition", isOf: false });
  return phrases;
})();

/** "head manager" are two roles, "team lead manager" are two as well: names of two words are known. */
function rolesIn(counts: string): string[] {
  return counts.match(/team lead|project manager|product manager|store manager|office manager|\S+/g) ?? [];
}

/** What stands for another title, word for word. */
export const ALIAS_OF: ReadonlyMap<string, string> = new Map(
  linesOf(ALIASES).flatMap(([title, forms]) => forms.map((form): [string, string] => [form, title])),
);

/** The most words that one phrase has. */
export const MOST_PHRASE_WORDS = Math.max(
  ...[...PHRASES.keys(), ...ALIAS_OF.keys()].map((phrase) => phrase.split(" ").length),
);
