/** Which column of a file is which field. */
import { fold } from "../fold.ts";
import { FIELD_CODES, FIELD_WORDS, type FieldCode, PERSON_FIELDS } from "./fields.ts";
import { type MarkUse, markColumn } from "./marks.ts";

/** Of a person, and the two names in one. */
export const FIELDS: readonly { name: FieldName; label: string }[] = [
  ...PERSON_FIELDS.map((field) => ({ name: FIELD_CODES[field], label: FIELD_WORDS[field] })),
  { name: "full_name", label: "First and last name" },
  { name: "opt_out", label: "Do not contact" },
  { name: "bad_address", label: "Address came back" },
];
export type FieldName = FieldCode | "full_name" | MarkUse;
/** Of these a file may have several columns: one that says so is enough. */
export const MANY: ReadonlySet<ColumnUse> = new Set(["opt_out", "bad_address"]);

/** A column's use: one of the fields, a field of the list's own ("custom:budget"), or left out. */
export type ColumnUse = FieldName | `custom:${string}` | "skip";

/**
 * What columns are called, as header keys: in English, German, French, Spanish, Italian, Portuguese, Dutch,
 * Polish, Czech, Slovak, Hungarian, Romanian, Swedish, Danish, Norwegian, Finnish, Estonian, Latvian,
 * Lithuanian, Croatian, Slovenian, Turkish, Greek, Russian, Ukrainian, Bulgarian, Hebrew, Arabic, Japanese,
 * Chinese, Korean, Indonesian and Vietnamese.
 */
const NAMES: Record<Exclude<FieldName, MarkUse>, readonly string[]> = namesOf({
  email: `email emailaddress mail mailaddress workemail businessemail emailwork emailid primaryemail contactemail emails
    companyemail professionalemail directemail emailaddr mailid correo correoelectronico email1 emailaddress1 epost
    epostadress epostadresse adressemail adressemel mel courriel emailadresse mailadresse emailpro adresseemail
    adressecourriel correoe direccionemail direcciondecorreo emailcorporativo emailprofissional enderecodeemail endereco
    email indirizzoemail indirizzomail postaelettronica posta emailaziendale emailadres mailadres zakelijkemail adresemail
    adresemailowy emailsluzbowy pocztaelektroniczna emailova emailovaadresa epostaadresi eposta emailcim emailcime
    villanyposta adresadeemail adresaemail sahkoposti sahkopostiosoite epasts epastaadrese elpastas elpaštas elpastoadresas
    eadresa eposta epostni eposlov elektronnapochta elektronskaposta ηλεκτρονικοταχυδρομειο ταχυδρομειο διευθυνσηemail
    почта электроннаяпочта адресэлектроннойпочты емейл имейл емайл эл почта електроннапошта пошта ел поща имейладрес
    דואל דואראלקטרוני אימייל البريدالإلكتروني البريد بريدإلكتروني الايميل メール メールアドレス eメール 電子メール 邮箱 电子邮件 电子邮箱
    邮件 電子郵件 信箱 이메일 메일 이메일주소 전자우편 surel alamatemail thudientu diachiemail`,
  first_name: `firstname first given givenname givennames forename forenames christianname fname vorname vornamen rufname
    prenom prenoms nombre nombres nombredepila primernombre nome primeironome nomeproprio nomedibattesimo fornavn fornamn
    fornamnet voornaam roepnaam imie imiona jmeno krestnijmeno krstnemeno keresztnev utonev prenume etunimi eesnimi vards
    vardas ime ad adi isim ονομα имя имена імя ім'я име personname שםפרטי שם الاسمالأول الاسمالاول 名 名前名 ファーストネーム 이름
    名字 namadepan ten tenriêng tên`,
  last_name: `lastname last surname familyname secondname lname nachname familienname zuname name2 nom nomdefamille patronyme
    apellido apellidos primerapellido cognome sobrenome apelido ultimonome etternavn efternavn efternamn achternaam
    familienaam nazwisko prijmeni priezvisko vezeteknev csaladnev numedefamilie sukunimi perekonnanimi perenimi uzvards
    pavarde prezime priimek soyad soyadi soyisim επωνυμο επιθετο фамилия прізвище фамилияимя фамилно фамилноиме שםמשפחה
    اسمالعائلة اللقب الاسمالأخير 姓 苗字 名字姓 ラストネーム 성 姓氏 namabelakang namakeluarga ho họ`,
  full_name: `name fullname contact contactname contactperson person people prospect lead nomcomplet nomprenom prenomnom
    nometprenom vollername vollstandigername namevorname vornamename vorundnachname ansprechpartner ansprechperson
    kontakt kontaktperson kontaktnavn nombrecompleto nombreyapellidos nombreyapellido contacto personadecontacto
    nomecompleto nomecognome nomeecognome nominativo contatto referente contato pessoadecontato navn fuldenavn fulltnavn
    namn fullstandigtnamn kontaktpersoon volledigenaam naam imieinazwisko osobakontaktowa osoba celejmeno jmenoaprijmeni
    menoapriezvisko kontaktniosoba nev teljesnev kapcsolattarto numecomplet numesiprenume persoanadecontact nimi kokonimi
    yhteyshenkilo taisnimi kontaktisik vardsuzvards vardaspavarde kontaktinisasmuo imeiprezime imeinpriimek adsoyad
    adisoyadi adivesoyadi isimsoyisim ilgilikisi ονοματεπωνυμο фио имяифамилия фамилияиимя контактноелицо контакт піб
    контактнаособа именаифамилия שםמלא אישקשר الاسم الاسمالكامل 氏名 お名前 名前 担当者 担当者名 姓名 联系人 聯絡人 성명 담당자 담당자명 nama namalengkap
    hoten hovaten họtên họvàtên`,
  company: `company companyname organisation organization organisationname organizationname account accountname employer
    institution business businessname firm firma firmenname unternehmen unternehmensname arbeitgeber gesellschaft
    organisationsname entreprise societe nomdelentreprise nomentreprise raisonsociale organisme etablissement empresa
    nombredelaempresa razonsocial compania organizacion negocio azienda societa ragionesociale impresa ditta nomeazienda
    organizzazione nomedaempresa razaosocial organizacao companhia bedrijf bedrijfsnaam organisatie onderneming werkgever
    nazwafirmy przedsiebiorstwo organizacja spolecnost nazevfirmy spolocnost nazovfirmy ceg cegnev vallalat companie
    denumire numefirma virksomhed virksomhet firmanavn selskap bedrift foretag foretagsnamn yritys yrityksennimi yhtio
    organisaatio ettevote firmanimi uznemums uznemumanosaukums imone imonespavadinimas tvrtka nazivtvrtke poduzece podjetje
    nazivpodjetja sirket sirketadi kurum firmaadi εταιρεια επωνυμια εταιρια компания организация предприятие фирма
    названиекомпании компанія організація підприємство назвакомпанії дружество חברה שםהחברה ארגון الشركة اسمالشركة شركة
    会社 会社名 企業名 企業 公司 公司名称 公司名稱 企业 单位 회사 회사명 기업 perusahaan namaperusahaan congty côngty têncôngty`,
  company_domain: `companydomain domain website web companywebsite url homepage site websiteurl companyurl webseite
    internetseite internet netz webadresse siteweb siteinternet siteoueb paginaweb sitioweb dominio sitodellazienda sitoweb
    sito siteempresa pagina strona stronawww stronainternetowa www webstranka webovastranka webovestranky weboldal honlap
    siteulweb paginadeinternet hemsida webbplats webbsida hjemmeside nettside nettsted verkkosivu verkkosivut kotisivu
    koduleht veebileht majaslapa svetaine tinklalapis webstranica spletnastran websitesi webadresi ιστοσελιδα ιστοτοπος сайт
    вебсайт домен вебсайткомпании уебсайт אתר אתראינטרנט الموقع الموقعالإلكتروني ウェブサイト ホームページ サイト ドメイン 网站 网址 網站 官网
    웹사이트 홈페이지 도메인 situsweb laman trangweb`,
  title: `title jobtitle position role function job jobrole designation occupation jobposition berufsbezeichnung beruf
    stellenbezeichnung funktion stelle rolle tatigkeit positionimunternehmen poste fonction intitule intituledeposte
    titre emploi metier cargo puesto funcion puestodetrabajo ocupacion rol profesion ruolo posizione funzione qualifica
    mansione incarico funcao profissao posicao ocupacao functie functietitel beroep rol stanowisko funkcja zawod pozice
    funkce pracovnipozice pozicia beosztas munkakor pozicio functia pozitie postul titel befattning stilling stillingstittel
    tittel yrke roll titteli tehtava tehtavanimike asema ametinimetus amet amats pareigos radnomjesto pozicija funkcija
    delovnomesto unvan gorev pozisyon meslek θεση ιδιοτητα τιτλος должность позиция роль посада длъжность תפקיד משרה
    المسمىالوظيفي الوظيفة المنصب 役職 肩書き 職種 部署役職 職務 职位 职务 職稱 職位 头衔 직책 직위 직함 직급 jabatan posisi chucvu chứcvụ chứcdanh`,
  city: `city town locality place location ort stadt wohnort standort ville commune localite ciudad localidad poblacion
    municipio citta comune localita cidade municipio localidade stad plaats woonplaats gemeente miasto miejscowosc mesto
    obec varos telepules oras localitate by ort postort poststed sted kaupunki paikkakunta linn pilseta miestas grad
    sehir il ilce πολη город місто град עיר المدينة مدينة 市 都市 市区町村 城市 市 도시 시 kota thanhpho thànhphố`,
  country: `country countrycode countryregion nation land staat pays pais paese nazione kraj zeme stat krajina orszag tara
    riik valsts salis šalis drzava zemlja maa ulke χωρα страна країна държава מדינה ארץ البلد الدولة بلد دولة 国 国名 国家 國家 국가 나라
    negara quocgia quốcgia`,
  language: `language preferredlanguage spokenlanguage sprache korrespondenzsprache muttersprache langue languepreferee
    languecorrespondance idioma lenguaje idiomapreferido lingua linguapreferita taal voorkeurstaal correspondentietaal jezyk
    jezykkontaktu jazyk nyelv limba sprak talsprak kontaktsprak sprog kommunikationssprog malform kieli asiointikieli keel
    valoda kalba jezik dil γλωσσα язык мова език שפה اللغة 言語 语言 語言 언어 bahasa ngonngu`,
  time_zone: `timezone tz zone zeitzone fuseauhoraire fuseau zonahoraria fusoorario fusohorario tijdzone strefaczasowa
    tidszon tidszone aikavyohyke saatdilimi часовойпояс タイムゾーン 时区 시간대`,
  phone: `phone phonenumber telephone telephonenumber tel mobile mobilephone cell cellphone directphone workphone officephone
    directdial contactnumber phone1 telefon telefonnummer rufnummer handy mobil mobiltelefon mobilnummer durchwahl telefonnr
    telnr telno numerodetelephone portable telmobile fixe telefono numerodetelefono movil celular telefonofijo telefonino
    cellulare recapito telefone telemovel numerodetelefone telefoon telefoonnummer mobiel gsm numertelefonu komorka
    telefonni cislo telefonnicislo telefonszam numardetelefon telefonnummer mobilnr tlf tlfnr puhelin puhelinnumero
    matkapuhelin telefoninumber talrunis telefonas broj telefona brojtelefona telefonskastevilka telefonnumarasi ceptelefonu
    cep τηλεφωνο κινητο телефон номертелефона мобильный моб мобільний номертелефону טלפון נייד הهاتف الهاتف هاتف رقمالهاتف الجوال
    電話 電話番号 携帯 携帯電話 电话 手机 電話號碼 联系电话 전화 전화번호 휴대폰 연락처 telepon nomortelepon hp dienthoai sốđiệnthoại điệnthoại`,
  profile: `profile profileurl socialprofile personprofile sociallink profil profillink profilurl personprofileurl
    profilelink socialprofileurl social socialmedia perfil perfilsocial profilo profiel profilsocial профиль профіль プロフィール 主页 프로필`,
});

/** Words parted by spaces become keys; a word of several is written without spaces. */
function namesOf<Name extends string>(
  names: Readonly<Record<Name, string>>,
): Record<Name, readonly string[]> {
  return Object.fromEntries(
    Object.entries<string>(names).map(([field, words]) => [field, words.split(/\s+/).map(plain)]),
  ) as unknown as Record<Name, readonly string[]>;
}

/** A header's letters and digits, of any alphabet. */
function plain(header: string): string {
  return fold(header).replace(/[^\p{L}\p{N}]/gu, "");
}

/** "Annual budget (€)" becomes "annual_budget", a name that a merge field can have. */
export function customFieldName(header: string): string {
  const name = header
    .normalize("NFD")
    .replace(/\p{M}/gu, "")
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, "_")
    .replace(/^_+|_+$/g, "")
    .slice(0, 40);
  return /^[a-z]/.test(name) ? name : `field_${name || "x"}`;
}

/** What a header is compared and remembered by: its letters and digits. */
export const headerKey = plain;

/**
 * What a column's values look like, for columns whose name says nothing; null if they look like nothing
 * special. `emails` are the addresses of the same rows, "" where there is none.
 */
export type ContentGuess = (values: readonly string[], emails: readonly string[]) => FieldName | null;

/**
 * Columns of our own export that tell of a state and not of the person. A file with all of them is such
 * an export, and they are left out when it comes back.
 */
export const STATE_HEADERS = ["Stage", "Address verdict", "Owner", "Lists"] as const;

/**
 * A use for each column: as it was used before, by its name, or by what its rows hold. Each field is
 * given out once; what is left becomes a field of the list's own.
 */
export function matchColumns(
  headers: readonly string[],
  rows: readonly (readonly string[])[],
  remembered: ReadonlyMap<string, ColumnUse> = new Map(),
  guess: ContentGuess = () => null,
): ColumnUse[] {
  const given = new Set<ColumnUse>();
  const give = (use: ColumnUse | null | undefined): ColumnUse | null => {
    if (!use || given.has(use)) return null;
    if (use !== "skip" && !MANY.has(use)) given.add(use);
    return use;
  };
  const isOurs = STATE_HEADERS.every((header) => headers.includes(header));
  const uses = headers.map((header) => {
    const name = plain(header);
    return (
      give(remembered.get(name)) ??
      (isOurs && STATE_HEADERS.some((state) => state === header) ? "skip" : null) ??
      give(namedField(header))
    );
  });
  const values = (column: number) => rows.map((row) => (row[column] ?? "").trim());
  // Addresses first: they tell which of the other columns are names.
  const unnamed = uses.flatMap((use, column) => (use ? [] : [column]));
  for (const column of unnamed)
    if (!given.has("email") && guess(values(column), []) === "email") uses[column] = give("email");
  const addresses = values(uses.indexOf("email"));
  const customs = new Set<string>();
  return uses.map((use, column): ColumnUse => {
    if (use) return use;
    const header = headers[column]?.trim() ?? "";
    const guessed = give(guess(values(column), addresses));
    if (guessed) return guessed;
    return header === "" ? "skip" : own(header, customs);
  });
}

/** Words beside a name that say nothing of it: "Email (work)", "Contact: first name", "Company *". */
const BESIDE =
  /\([^)]*\)|\[[^\]]*\]|^(?:contact|person|prospect|lead|customer|client|primary|main|kontakt|contacto|attendee|guest|delegate|participant|member|user|registrant|speaker|student|employee|owner|billing|shipping|subscriber|visitor|recipient|teilnehmer|teilnehmerin|gast|mitglied|invite|asistente|participante|partecipante|deelnemer|deltagare|deltager|uczestnik|ucastnik|参加者|参会者|참석자)['s]*[\s:._/-]+|[\s:._/-]+(?:\d|field|value)$/gi;

/** No column's name is longer. */
const LONGEST_HEADER = 120;

function namedField(header: string): FieldName | undefined {
  if (header.length > LONGEST_HEADER) return undefined;
  const mark = markColumn(header);
  if (mark) return mark;
  const tries = [header, header.replace(BESIDE, ""), ...header.split(/[/|]/)].map(plain);
  for (const key of tries) {
    const found = (Object.keys(NAMES) as (keyof typeof NAMES)[]).find(
      (name) => key !== "" && NAMES[name].includes(key),
    );
    if (found) return found;
  }
  return undefined;
}

/** A field of the list's own; two headers of one name get one each. */
function own(header: string, taken: Set<string>): ColumnUse {
  const name = customFieldName(header);
  let free = name;
  for (let nth = 2; taken.has(free); nth++) free = `${name.slice(0, 36)}_${nth}`;
  taken.add(free);
  return `custom:${free}`;
}
