/** The sets of letters that a person can choose, by the languages that they are for. */
export const ENCODINGS = {
  "utf-8": "Unicode (UTF-8)",
  "windows-1252": "Western European (Windows-1252)",
  "windows-1250": "Central European (Windows-1250)",
  "windows-1251": "Cyrillic (Windows-1251)",
  "windows-1253": "Greek (Windows-1253)",
  "windows-1254": "Turkish (Windows-1254)",
  "windows-1255": "Hebrew (Windows-1255)",
  "windows-1256": "Arabic (Windows-1256)",
  "windows-1257": "Baltic (Windows-1257)",
  "koi8-r": "Russian (KOI8-R)",
  shift_jis: "Japanese (Shift_JIS)",
  "euc-jp": "Japanese (EUC-JP)",
  "euc-kr": "Korean (EUC-KR)",
  gb18030: "Chinese, simplified (GB18030)",
  big5: "Chinese, traditional (Big5)",
  "utf-16le": "Unicode (UTF-16)",
  "utf-16be": "Unicode (UTF-16, big-endian)",
} as const;
export type Encoding = keyof typeof ENCODINGS;
export const isEncoding = (text: string): text is Encoding => text in ENCODINGS;
