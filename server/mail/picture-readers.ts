/**
 * Which readers of the picture library strangers' bytes may reach: five, behind a look at what the bytes are (file-content.ts,
 * server/research/pictures.ts). It holds for the whole process, and its threads must not close what others are reading by.
 */
import { isMainThread } from "node:worker_threads";
import sharp from "sharp";

if (isMainThread) {
  sharp.block({ operation: ["VipsForeignLoad"] });
  sharp.unblock({
    operation: [
      ...["VipsForeignLoadPng", "VipsForeignLoadJpeg", "VipsForeignLoadNsgif"],
      ...["VipsForeignLoadSvg", "VipsForeignLoadWebp"],
    ],
  });
}
sharp.cache(false);
sharp.concurrency(1);
