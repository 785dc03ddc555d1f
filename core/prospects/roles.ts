/** Addresses of a function, read by several people or none (RFC 2142, and what companies add to it). */
const ROLES = new Set(
  `info contact office hello hi mail post team admin administrator webmaster postmaster hostmaster abuse noc security
  sales marketing support help helpdesk service enquiries inquiries reception press media jobs careers hr billing
  accounts finance invoices orders shop noreply no-reply donotreply newsletter privacy legal kontakt contato
  contacto verkauf vertrieb einkauf buchhaltung sekretariat rezeption comercial ventas compras administracion amministrazione
  vendite commerciale direction comptabilite accueil commercial achats secretaria geral biuro kancelaria sprzedaz post
  firmapost toimisto verkoop orders bookings reservations events team general secretariat secretaria museum archive library bibliothek archiv`.split(
    /\s+/,
  ),
);

export const isRole = (address: string) =>
  ROLES.has(address.slice(0, address.lastIndexOf("@")).toLowerCase());
