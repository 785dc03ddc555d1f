/**
 * Legal forms of companies by country, as registers write them: short and written out (most from
 * ISO 20275, the list of entity legal forms). Dots, spaces and capitals do not matter when they are
 * compared. Where a form stands is not said here: nearly all stand behind the name.
 */
const FORMS = `
AE: FZE|FZCO|FZ-LLC|FZ LLC|DMCC|PJSC|PSC|L.L.C|LLC|L.L.C-FZ|L.L.C. S.O.C|ذ.م.م|ش.م.ع
AL: Sh.p.k.|Sh.a.|ShPK|ShA
AM: ՍՊԸ|ՓԲԸ|ԲԲԸ|CJSC|LLC
AR: S.R.L.|S.A.U.|S.A.S.|S.A.|S.C.A.|S.A.I.C.|S.A.C.I.F.|Sociedad Anónima
AT: GesmbH|Ges.m.b.H.|GmbH|AG|KG|OG|e.U.|GmbH & Co KG|Gen.m.b.H.|OEG|KEG|FlexCo
AU: Pty Ltd|Pty Limited|(Pty) Ltd|Pty. Ltd.|Proprietary Limited|NL|Ltd
AZ: MMC|ASC|QSC
BA: d.o.o.|d.d.
BD: Ltd|Private Limited
BE: BV|BVBA|NV|SPRL|ASBL|VZW|CVBA|SRL|SA|SCRL|CV|Comm.V|SComm|SNC|VOF|GCV|ebvba
BG: EOOD|OOD|EAD|AD|ЕООД|ООД|ЕАД|АД|ЕТ
BH: W.L.L.|B.S.C.|S.P.C.
BR: Ltda|Ltda ME|EIRELI|S/A|S.A.|ME|EPP|MEI|Ltda EPP|Limitada|SLU|Sociedade Anônima
BY: ОДО|УП|ЧУП|ООО|ЗАО|ОАО|ЧТУП
CA: Ltée|Inc|Corp|Ltd|Limitée|ULC|Incorporée|Cie|s.e.n.c.|LP
CH: Sàrl|Sagl|GmbH|AG|SA|S.à r.l.|KlG|Einzelfirma|Genossenschaft
CL: SpA|Ltda|E.I.R.L.|S.A.|Limitada
CN: Co Ltd|Co. Limited|有限公司|股份有限公司|有限责任公司|集团有限公司
CO: S.A.S.|Ltda|S.A.|E.U.|S.C.A.|S.A.S. BIC|SAS ESP|S.A. E.S.P.
CR: S.R.L.|Ltda|S.A.|Sociedad Anónima
CY: Ltd|Public Ltd|Λτδ
CZ: s.r.o.|spol. s r.o.|a.s.|z.s.|o.p.s.|k.s.|v.o.s.|z.ú.|s.p.|společnost s ručením omezeným|akciová společnost
DE: GmbH|gGmbH|AG|KG|GmbH & Co. KG|GmbH & Co. KGaA|KGaA|UG|UG (haftungsbeschränkt)|e.V.|eG|OHG|GbR|mbH|gUG|gAG|e.K.|e.Kfm.|e. Kfm.|e.Kfr.|e. Kfr.|AöR|KdöR|PartG|PartG mbB|PartGmbB|mbB|GmbH i.L.|GmbH i.G.|AG & Co. KG|AG & Co. KGaA|SE & Co. KG|SE & Co. KGaA|UG & Co. KG|GmbH & Cie. KG|Aktiengesellschaft|Gesellschaft mit beschränkter Haftung|Kommanditgesellschaft|Offene Handelsgesellschaft|eingetragene Genossenschaft|eingetragener Verein|Gesellschaft bürgerlichen Rechts|G.m.b.H.|Stiftung & Co. KG|(haftungsbeschränkt)|GmbH & Co. OHG|e.Gen.|InvAG
DK: A/S|ApS|I/S|IVS|K/S|P/S|A.M.B.A.|Aktieselskab|Anpartsselskab|F.M.B.A.|SMBA
DO: S.R.L.|E.I.R.L.|S.A.|S.A.S.
DZ: EURL|SARL|SPA|SNC
EC: C.A.|Cía. Ltda.|S.A.|Compañía Limitada|C. Ltda.|S.A.S.
EE: OÜ|MTÜ|AS|TÜ|UÜ|FIE|SA|osaühing|aktsiaselts
EG: S.A.E.|LLC|ش.م.م
ES: S.L.|S.L.U.|S.A.|S.A.U.|S.L.L.|S.Coop.|S. Coop.|S. Coop. And.|S.L.P.|S.C.|C.B.|S.A.L.|S.L.N.E.|Sociedad Limitada|Sociedad Anónima|Sociedad Limitada Unipersonal|S.Coop.And.|S.C.C.L.|SCCL|S.L.P.U.|A.I.E.|S.R.L.
EU: SE|SCE|EEIG|GEIE|EWIV
FI: Oy|Oyj|Oy Ab|ry|r.y.|Ky|Tmi|T:mi|Ab|osk|Ab Oy|Ay|Osakeyhtiö|Oyj Abp
FO: P/F|Sp/f
FR: SARL|SAS|SASU|SA|EURL|SNC|SCI|SCOP|S.A.R.L.|S.A.S.|SCM|SELARL|SELAS|SCIC|SC|GIE|EI|EIRL|SCA|SA à directoire|Société Anonyme|Société à Responsabilité Limitée|Société par Actions Simplifiée|SCEA|GAEC|EARL|SCP
GB: Ltd|Limited|PLC|LLP|CIC|CIO|P.L.C.|Public Limited Company|LP|Ltd.|Limited Liability Partnership|Cyf|Cyfyngedig|C.I.C.|Unlimited
GE: შპს|სს|LLC|JSC
GH: Ltd|LBG
GR: A.E.|E.P.E.|I.K.E.|Α.Ε.|Ε.Π.Ε.|Ι.Κ.Ε.|Ο.Ε.|Ε.Ε.|O.E.|E.E.|Α.Ε.Β.Ε.|A.E.B.E.|Μ.Ε.Π.Ε.|Α.Β.Ε.Ε.|Μονοπρόσωπη Ι.Κ.Ε.|Μονοπρόσωπη Ε.Π.Ε.|S.A.|Single Member S.A.|Μ.Α.Ε.
GT: S.A.|Sociedad Anónima
HK: Limited|Ltd|Co Ltd
HR: d.o.o.|d.d.|j.d.o.o.|obrt|j.t.d.|k.d.
HU: Kft.|Zrt.|Nyrt.|Bt.|Kkt.|Rt.|Nonprofit Kft.|Ev.|Korlátolt Felelősségű Társaság|Zártkörűen Működő Részvénytársaság|Szövetkezet
ID: Tbk|PT|CV|Persero|(Persero)|(Persero) Tbk|UD|Perum
IE: DAC|Teoranta|UC|CLG|Ltd|Limited|PLC|Teo|D.A.C.|Designated Activity Company|ULC|CTR
IL: בע"מ|בע״מ|בעמ|Ltd|ע"ר|חל"צ
IN: Pvt Ltd|Private Limited|Pvt. Limited|(P) Ltd|P Ltd|Private Ltd|(OPC) Private Limited|OPC Pvt Ltd|LLP|(P) Limited|Pvt. Ltd.|Ltd
IS: ehf.|hf.|ohf.|sf.|slf.|ses.|svf.
IT: S.p.A.|S.r.l.|S.r.l.s.|S.n.c.|S.a.s.|S.c.a.r.l.|S.c.r.l.|S.c.p.A.|S.a.p.a.|Soc. Coop.|Soc. Coop. a r.l.|S.r.l. Unipersonale|S.r.l. a socio unico|S.r.l. S.B.|S.p.A. a socio unico|Società per Azioni|Società a Responsabilità Limitata|Società Cooperativa|Onlus|S.s.|Scrl|Scarl|S.r.l. in liquidazione|Soc. Agr.|S.c.s.
JP: K.K.|G.K.|株式会社|合同会社|有限会社|(株)|㈱|(有)|㈲|合資会社|合名会社|一般社団法人|公益財団法人|一般財団法人|Co Ltd|Kabushiki Kaisha|KK|GK|Y.K.|（株）|（有）
KE: Ltd|Limited|PLC
KR: 주식회사|(주)|㈜|유한회사|Co Ltd|(유)|유한책임회사
KW: W.L.L.|K.S.C.|K.S.C.C.|K.S.C.P.
KZ: ТОО|АО|ЖШС|ИП|LLP|JSC
LB: S.A.L.|SARL|s.a.r.l.
LI: Anstalt|Est.|AG|Trust reg.
LK: (Pvt) Ltd|PLC|(Private) Limited
LT: UAB|MB|AB|IĮ|VšĮ|TŪB|KŪB|VĮ|ŽŪB
LU: S.à r.l.|S.A.|SCA|SCSp|S.à r.l.-S|S.C.S.|S.A.R.L.|Sàrl|SICAV|SOPARFI|S.e.c.s.
LV: SIA|AS|IK|PS|KS|A/S|biedrība
MA: SARL AU|SARL|S.A.R.L. A.U.|S.A.|SARLAU|GIE
MC: SAM|S.A.M.|S.A.R.L.
MD: S.R.L.|S.A.|Î.I.|Î.C.S.
ME: d.o.o.|a.d.
MK: ДООЕЛ|ДОО|DOOEL|DOO|АД
MT: Ltd|plc|p.l.c.
MX: S.A. de C.V.|S. de R.L. de C.V.|S.A.B. de C.V.|S.C.|S.A.P.I. de C.V.|S. de R.L.|S.A.P.I.|A.C.|S.A.S. de C.V.|S. de R.L. M.I.|S.A. de C.V. SOFOM ENR|SOFOM|S.A.B.|S.P.R. de R.L.|S.C. de R.L.|Sociedad Anónima de Capital Variable
MY: Sdn Bhd|Bhd|Sdn. Berhad|Berhad|Sendirian Berhad|PLT|Sdn. Bhd.
NG: Ltd|Plc|Nigeria Ltd|Nig. Ltd|GTE|(Nigeria) Limited
NL: B.V.|N.V.|V.O.F.|C.V.|U.A.|Besloten Vennootschap|Naamloze Vennootschap|Coöperatie U.A.|B.V. i.o.|BVio|Stichting|eenmanszaak|maatschap
NO: AS|ASA|ANS|KS|DA|ENK|SA|BA|SF|IKS|NUF|A/S|Aksjeselskap|Allmennaksjeselskap|HF|KF
NZ: Ltd|Limited|LP|Tāpui Limited
OM: S.A.O.G.|S.A.O.C.|L.L.C|LLC|SAOG|SPC
PA: S.A.|Inc|S. de R.L.
PE: S.A.C.|E.I.R.L.|S.R.L.|S.A.A.|S.A.|S.C.R.L.|S.R. Ltda.|SRLtda
PH: Inc|Corp|OPC|Co|Corporation
PK: (Pvt) Ltd|Pvt Ltd|(SMC-Private) Limited|(Private) Limited|SMC-Pvt Ltd|(SMC-Pvt) Ltd
PL: Sp. z o.o.|S.A.|Sp. k.|Sp. j.|Sp. z o.o. Sp. k.|sp. z o. o.|Spółka Akcyjna|Spółka z o.o.|Spółka z ograniczoną odpowiedzialnością|S.C.|S.K.A.|P.S.A.|Sp.p.|Spółka Jawna|Spółka Komandytowa|Spółka Cywilna|Sp. z o.o. S.K.A.|Sp. z o.o. S.K.|Sp.K|s.c.|sp. z.o.o.|Sp. z oo|spółdzielnia|P.P.H.U.
PT: Lda|Unipessoal Lda|S.A.|SGPS|SGPS S.A.|Limitada|C.R.L.|Lda.|Unip. Lda|Sociedade Unipessoal Lda|Sociedade Anónima|E.P.E.|E.M.
PY: S.R.L.|S.A.|S.A.E.C.A.|E.A.S.
QA: W.L.L.|Q.P.S.C.|Q.S.C.|LLC
RO: S.R.L.|S.A.|SRL|S.C.S.|S.N.C.|P.F.A.|S.R.L.-D|Î.I.|SRL-D
RS: d.o.o.|a.d.|д.о.о.|ДОО|АД|preduzetnik|pr|o.d.|k.d.
RU: ООО|ОАО|ЗАО|АО|ПАО|ИП|НАО|ГУП|МУП|АНО|OOO|OAO|ZAO|PAO|НКО|ФГУП
SA: LLC|شركة ذات مسؤولية محدودة|JSC|ش.م.س
SE: AB|HB|AB (publ)|KB|Aktiebolag|ek. för.|ekonomisk förening|Handelsbolag|Kommanditbolag|(publ)|EF
SG: Pte Ltd|Pte. Limited|Private Limited|LLP|Pte. Ltd.
SI: d.o.o.|d.d.|s.p.|d.n.o.|k.d.|z.o.o.|zavod
SK: s.r.o.|a.s.|spol. s r.o.|k.s.|v.o.s.|j.s.a.|o.z.|n.o.|š.p.
TH: Co Ltd|PCL|Public Company Limited|จำกัด|จำกัด (มหาชน)|Public Co Ltd|(Thailand) Co Ltd|Ltd Partnership|หจก.
TN: SUARL|SARL|S.A.|S.U.A.R.L.
TR: A.Ş.|Ltd. Şti.|Ltd Sti|Anonim Şirketi|Limited Şirketi|San. ve Tic. A.Ş.|San. ve Tic. Ltd. Şti.|San. Tic. Ltd. Şti.|Tic. Ltd. Şti.|Tic. A.Ş.|San. A.Ş.|Sanayi ve Ticaret A.Ş.|Sanayi ve Ticaret Ltd. Şti.|A.S.|Koll. Şti.|Sanayi ve Ticaret Limited Şirketi|Sanayi ve Ticaret Anonim Şirketi
TW: Co Ltd|股份有限公司|有限公司|Inc
UA: ТОВ|ПрАТ|ПАТ|ФОП|ПП|АТ|ТзОВ|TOV|LLC|PJSC|КП|ДП|ТДВ
US: Inc|Incorporated|LLC|L.L.C.|Corp|Corporation|L.P.|PLLC|PBC|P.C.|Co|P.A.|LLP|Ltd|N.A.|L.L.P.|Co. Inc|Co. LLC|& Co. Inc|Limited Liability Company|Limited Partnership|P.L.L.C.|L3C
UY: S.A.S.|S.R.L.|S.A.
UZ: MChJ|AJ|ООО|XK|QK
VE: C.A.|S.A.|S.R.L.|Compañía Anónima|R.L.
VN: JSC|Co Ltd|Joint Stock Company|Corporation|TNHH
ZA: (Pty) Ltd|NPC|CC|Proprietary Limited|Pty Ltd|(RF) Ltd|SOC Ltd|(Pty) Limited|NPO|(RF) (Pty) Ltd
`;

export const LEGAL_FORMS: Record<string, string[]> = Object.fromEntries(
  FORMS.trim()
    .split("\n")
    .map((line): [string, string[]] => [line.slice(0, 2), line.slice(4).split("|")]),
);

/** Forms that stand before the name, most of them behind it as well. */
export const LEADING_FORMS =
  `Kabushiki Kaisha|Kabushiki Gaisha|Yugen Kaisha|Goushi Kaisha|PT|CV|PD|UD|ООО|ОАО|ЗАО|АО|ПАО|ИП|НАО|ГУП|МУП|АНО|ОДО|УП|ЧУП|ФГУП|ТОВ|ПрАТ|ПАТ|ФОП|ПП|АТ|ТзОВ|ДП|КП|ТДВ|ТОО|ЖШС|OOO|OAO|ZAO|TOV|株式会社|合同会社|有限会社|(株)|㈱|(有)|㈲|（株）|（有）|주식회사|(주)|㈜|유한회사|SIA|UAB|OÜ|AS|A/S|MB|VšĮ|IĮ|AB|Oy|Oy Ab|Ab|Tmi|T:mi|S.C.|SC|S.R.L.|SARL|S.A.R.L.|EURL|SAS|SASU|SCI|Sté|Société|Soc. Coop.|Công ty TNHH|Công ty Cổ phần|CTCP|Cty TNHH|Công ty TNHH MTV|Cty CP|บริษัท|หจก.|ห้างหุ้นส่วนจำกัด|شركة|Firma|Fa.|Fa|Firma Handlowa|P.P.H.U.|PPHU|P.P.H.|F.H.U.|F.H.|PHU|P.H.U.|Z.P.H.|P.W.|Przedsiębiorstwo Handlowe|შპს|სს|ՍՊԸ|ЕТ|Αφοί|Ditta|Soc.|Stichting|Maatschap|M/s|M/s.|Messrs|VOF|ETS|Ets.|Éts|Établissements|Etablissements|Impresa|Cía.|Compañía|Grupo Empresarial|BV|Azienda Agricola|ИП|合資会社`.split(
    "|",
  );

/** A form without dots, spaces and capitals. */
export const squeeze = (text: string) => text.toLowerCase().replace(/[\s.,]/g, "");

/** Letters of forms that are words, too: they count only in capitals, or as a register writes them. */
export const WORDS_TOO = new Set(
  `as ab ag sa se ad bt ks co sas mb hb uc sia sca ry eg kg ug pc lp sc nv bv cv pt me da ba hf ef ev ei pr ay ky np npc cc
  spa sam pa na cie mei epp ek ps ik sf ac cb ae ee oe ike epe rt om og gk kk pp at dp ud pd est sal sl ca eu
  pac dac est cic cio gie snc scop sci trust maatschap stichting firma ditta fa soc
  nl sp ss po pl si opc plt spc psc kf sce ea qk xk aj ii ie rl em unlimited sh eirl asc ses`.split(/\s+/),
);
