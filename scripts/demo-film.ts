/** Draws the demo's film, with its poster and its first seconds beside each other, in a browser: nobody real is in it. `npm run demo:film`. */
import { writeFileSync } from "node:fs";
import { chromium } from "@playwright/test";
import { FRAME, FRAME_MS, FRAMES } from "../core/pages/moving-picture.ts";

const SECONDS = 14;

const browser = await chromium.launch({
  executablePath: "/usr/bin/chromium-headless-shell",
  args: ["--no-sandbox"],
});
const page = await browser.newPage();
// The compiler names functions by a helper that a browser has not.
await page.evaluate("globalThis.__name = (made) => made");
const made = await page.evaluate(
  async ({ seconds, frame, frames, frameMs }) => {
    const canvas = document.createElement("canvas");
    canvas.width = 640;
    canvas.height = 360;
    const pen = canvas.getContext("2d") as CanvasRenderingContext2D;
    const draw = (ms: number) => {
      const t = ms / 1000;
      pen.fillStyle = "#e8e4d8";
      pen.fillRect(0, 0, 640, 360);
      // A window behind, with the light of a morning.
      pen.fillStyle = "#dbe6f2";
      pen.fillRect(60, 40, 150, 190);
      pen.fillStyle = "#f6f1df";
      pen.beginPath();
      pen.arc(168, 92 - t * 0.8, 22, 0, 7);
      pen.fill();
      pen.strokeStyle = "#c9c2ae";
      pen.lineWidth = 6;
      pen.strokeRect(60, 40, 150, 190);
      pen.strokeRect(132, 40, 1, 190);
      const sway = Math.sin(t * 1.7) * 5;
      const nod = Math.sin(t * 3.1) * 3;
      pen.fillStyle = "#1f4f8f";
      pen.beginPath();
      pen.ellipse(330 + sway * 0.4, 390, 150, 150, 0, 0, 7);
      pen.fill();
      pen.fillStyle = "#e9c7a6";
      pen.fillRect(305 + sway, 208 + nod, 50, 50);
      pen.beginPath();
      pen.ellipse(330 + sway, 152 + nod, 68, 78, 0, 0, 7);
      pen.fill();
      pen.fillStyle = "#3a2a22";
      pen.beginPath();
      pen.ellipse(330 + sway, 108 + nod, 76, 46, 0, Math.PI, 0);
      pen.fill();
      pen.fillRect(254 + sway, 106 + nod, 20, 66);
      pen.fillRect(386 + sway, 106 + nod, 20, 66);
      const blink = t % 3.4 < 0.14 ? 1 : 6;
      pen.fillStyle = "#2b2320";
      for (const x of [304, 356]) {
        pen.beginPath();
        pen.ellipse(x + sway, 150 + nod, 6, blink, 0, 0, 7);
        pen.fill();
      }
      pen.strokeStyle = "#8c4a3a";
      pen.lineWidth = 4;
      pen.beginPath();
      pen.ellipse(330 + sway, 188 + nod, 20, 4 + Math.abs(Math.sin(t * 8)) * 8, 0, 0, Math.PI);
      pen.stroke();
      // A hand that waves at first, and shows a sheet afterwards.
      const wave = t < 3.2 ? Math.sin(t * 9) * 16 : 0;
      pen.fillStyle = "#e9c7a6";
      pen.beginPath();
      pen.ellipse(476 + wave, (t < 3.2 ? 190 : 292) + nod, 24, 30, 0.2, 0, 7);
      pen.fill();
      if (t >= 3.2) {
        pen.fillStyle = "#ffffff";
        pen.fillRect(440, 196 + nod, 120, 96);
        pen.fillStyle = "#b9c6d8";
        for (let line = 0; line < 5; line++) pen.fillRect(452, 210 + line * 15 + nod, 96 - line * 9, 5);
      }
    };
    const strip = document.createElement("canvas");
    strip.width = frame.width * frames;
    strip.height = frame.height;
    const stripPen = strip.getContext("2d") as CanvasRenderingContext2D;
    const part = (360 * frame.width) / frame.height;
    for (let nth = 0; nth < frames; nth++) {
      draw(nth * frameMs);
      stripPen.drawImage(
        canvas,
        345 - part / 2,
        0,
        part,
        360,
        nth * frame.width,
        0,
        frame.width,
        frame.height,
      );
    }
    draw(400);
    const poster = canvas.toDataURL("image/jpeg", 0.85);
    const stream = canvas.captureStream(20);
    const recorder = new MediaRecorder(stream, {
      mimeType: "video/webm;codecs=vp8",
      videoBitsPerSecond: 220_000,
    });
    const parts: Blob[] = [];
    recorder.ondataavailable = ({ data }) => parts.push(data);
    const begun = performance.now();
    const timer = setInterval(() => draw(performance.now() - begun), 50);
    recorder.start();
    await new Promise((resolve) => setTimeout(resolve, seconds * 1000));
    clearInterval(timer);
    await new Promise((resolve) => {
      recorder.onstop = resolve;
      recorder.stop();
    });
    const film = await new Promise<string>((resolve) => {
      const reader = new FileReader();
      reader.onload = () => resolve(String(reader.result));
      reader.readAsDataURL(new Blob(parts, { type: "video/webm" }));
    });
    return { film, poster, frames: strip.toDataURL("image/jpeg", 0.85) };
  },
  { seconds: SECONDS, frame: FRAME, frames: FRAMES, frameMs: FRAME_MS },
);
await browser.close();
for (const [name, data] of [
  ["film.webm", made.film],
  ["film-poster.jpg", made.poster],
  ["film-frames.jpg", made.frames],
] as const)
  writeFileSync(`demo/film/${name}`, Buffer.from(data.slice(data.indexOf("base64,") + 7), "base64"));
