/** Somebody died or is gravely ill: whatever else stands there, a person reads it, and no label does anything. */
const GRAVE = new RegExp(
  `(?<!\\p{L})(?:${[
    "(?:he|she|they|who|father|mother|husband|wife|son|daughter|brother|sister|partner|colleague|founder|owner|director|(?:mr|mrs|ms|dr)\\.? \\p{L}+|\\p{Lu}\\p{L}+) (?:has |had |have )?(?:sadly |recently |suddenly |unexpectedly )?(?:died|passed away|passed on)",
    "(?:passed away|death of (?:our|my|his|her|mr|mrs)|in hospice|in intensive care|terminal(?:ly)? (?:ill|cancer)|(?:have|has|had|diagnosed with|my|her|his) (?:\\p{L}+ )?(?:cancer|stroke)|funeral|bereave(?:d|ment)|late (?:husband|wife|father|mother))",
    "(?:verstorben|gestorben|verstarb|todesfall|trauerfall|beerdigung|krebs erkrankt|schwer erkrankt)",
    "(?:décédée?|décès|obsèques|fallecid[oa]|falleció|fallecimiento|falecid[oa]|faleceu|falecimento|decedut[oa]|deceduto|scompars[oa] improvvisa|è mancat[oa]|overleden|avlid(?:en|it)|avled|gick bort|gått bort|døde i|er død|afgået ved døden|gikk bort|menehtynyt|kuollut|zmarła?|zemřela?|zomrela?|скончал\\p{L}*|умерла?|помер(?:ла)?|elhunyt|a decedat|πέθανε|απεβίωσε|vefat)",
  ].join("|")})(?!\\p{L})|逝去|亡くな|永眠|去世|逝世|过世|별세|사망|돌아가셨|توفي|נפטר|निधन`,
  "iu",
);
export const isGrave = (text: string): boolean => GRAVE.test(text.slice(0, 3_000));
