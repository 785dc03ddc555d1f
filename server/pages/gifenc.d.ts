/** What is used of the package, which brings no types of its own. */
declare module "gifenc" {
  type Format = "rgb444" | "rgb565" | "rgba4444";
  interface Frame {
    /** Of the first frame: the colours of all. */
    palette?: number[][];
    repeat?: number;
    /** In ms. */
    delay: number;
    transparent: boolean;
    transparentIndex: number;
    dispose: number;
  }
  const gifenc: {
    quantize(rgba: Uint8Array, most: number, options: { format: Format }): number[][];
    applyPalette(rgba: Uint8Array, palette: number[][], format: Format): Uint8Array;
    GIFEncoder(): {
      writeFrame(points: Uint8Array, width: number, height: number, frame: Frame): void;
      finish(): void;
      bytes(): Uint8Array;
    };
  };
  export default gifenc;
}
