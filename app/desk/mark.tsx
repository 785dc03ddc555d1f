/** The tile: a four-petalled azulejo with a gold heart. */
export function Mark({ size = 26 }: { size?: number }) {
  return <img src="/mark.svg" width={size} height={size} alt="" />;
}
