/** The moving picture of an email: how large, how many frames, what each shows. Its first frame says it all. */

/** In points. Left their site, right whoever filmed. */
export const SIZE = { width: 600, height: 338 } as const;
export const FRAME = { width: 200, height: 338 } as const;
export const SITE = { width: SIZE.width - FRAME.width, height: SIZE.height } as const;
/** Of the film's first seconds; a frame lasts so many ms. */
export const FRAMES = 8;
export const FRAME_MS = 350;
/** Mail programs load no more at once. */
export const MOST_BYTES = 800 * 1024;

/** How far their site, `height` points high, has scrolled at a frame: it rests first, then goes down and stays. */
export function scrolledAt(frame: number, height: number): number {
  const way = Math.max(0, height - SITE.height);
  const moving = Math.max(0, Math.min(1, (frame - 1) / (FRAMES - 4)));
  // Begins and ends gently.
  return Math.round(way * (moving * moving * (3 - 2 * moving)));
}
