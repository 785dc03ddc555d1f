declare module "html-encoding-sniffer" {
  /** The letters that an HTML page is written in (WHATWG HTML 13.2.3.2), by their name in the Encoding Standard. */
  export default function htmlEncodingSniffer(
    bytes: Uint8Array,
    options?: { transportLayerEncodingLabel?: string; defaultEncoding?: string },
  ): string;
}
