/** What the worker thread does: draws moving pictures, so that nobody who waits for the process is kept by one. */
import { type Drawing, drawPicture } from "./draw-picture.ts";

export default (drawing: Drawing): Promise<Uint8Array> => drawPicture(drawing);
