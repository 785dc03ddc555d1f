/** Records by what browsers have (MediaStream Recording, W3C): the camera, or the screen with the camera beside it, never upon it. */
import { cover } from "./film-upload";

export type Source = "camera" | "screen";

export interface Recording {
  /** What is being recorded, to look at. */
  stream: MediaStream;
  stop: () => void;
  /** Ends it with nothing. */
  drop: () => void;
  /** The film, once it has ended; empty where it was dropped. */
  done: Promise<Blob>;
}

const SIZE = { width: 1_280, height: 720 };
const BITS_A_SECOND = 2_500_000;
/** A recording that nobody ends, ends. */
const LONGEST = 15 * 60_000;

/** The first that the browser writes. */
const TYPES = ["video/webm;codecs=vp9,opus", "video/webm;codecs=vp8,opus", "video/webm", "video/mp4"];

/** Throws what the browser says where it may not, or has nothing to record. */
export async function record(source: Source): Promise<Recording> {
  if (!navigator.mediaDevices || typeof MediaRecorder === "undefined")
    throw new Error("This browser cannot record here: that needs an address with https. Choose a file.");
  const screen =
    source === "screen" ? await navigator.mediaDevices.getDisplayMedia({ video: { frameRate: 20 } }) : null;
  const opened: MediaStream[] = screen ? [screen] : [];
  try {
    const camera = await navigator.mediaDevices.getUserMedia({
      video: { width: SIZE.width, height: SIZE.height },
      audio: true,
    });
    opened.push(camera);
    const beside = screen ? await besideEachOther(screen, camera) : null;
    const stream = beside
      ? new MediaStream([...beside.stream.getVideoTracks(), ...camera.getAudioTracks()])
      : camera;
    const type = TYPES.find((each) => MediaRecorder.isTypeSupported(each));
    const recorder = new MediaRecorder(stream, {
      ...(type && { mimeType: type }),
      videoBitsPerSecond: BITS_A_SECOND,
    });
    const parts: Blob[] = [];
    let isDropped = false;
    const stop = () => recorder.state !== "inactive" && recorder.stop();
    const late = setTimeout(stop, LONGEST);
    const done = new Promise<Blob>((resolve) => {
      recorder.ondataavailable = ({ data }) => parts.push(data);
      recorder.onstop = () => {
        clearTimeout(late);
        beside?.end();
        end(opened);
        resolve(
          isDropped ? new Blob() : new Blob(parts, { type: (type ?? "video/webm").split(";")[0] ?? "" }),
        );
      };
    });
    // Whoever ends sharing the screen has ended the film.
    screen?.getVideoTracks()[0]?.addEventListener("ended", stop);
    recorder.start(1_000);
    return {
      ...{ stream, stop, done },
      drop: () => {
        isDropped = true;
        stop();
      },
    };
  } catch (error) {
    end(opened);
    throw error;
  }
}

const end = (streams: readonly MediaStream[]) => {
  for (const stream of streams) for (const track of stream.getTracks()) track.stop();
};

/** The screen in two thirds of the picture, the camera in the third beside it. */
async function besideEachOther(
  screen: MediaStream,
  camera: MediaStream,
): Promise<{ stream: MediaStream; end: () => void }> {
  const canvas = document.createElement("canvas");
  Object.assign(canvas, SIZE);
  const pen = canvas.getContext("2d") as CanvasRenderingContext2D;
  const [page, face] = await Promise.all([playing(screen), playing(camera)]);
  const wide = Math.round((SIZE.width * 2) / 3);
  const draw = () => {
    pen.fillStyle = "#101820";
    pen.fillRect(0, 0, SIZE.width, SIZE.height);
    // All of the screen is to be seen, the middle of the camera.
    const scale = Math.min(wide / page.videoWidth, SIZE.height / page.videoHeight);
    const [w, h] = [page.videoWidth * scale, page.videoHeight * scale];
    pen.drawImage(page, (wide - w) / 2, (SIZE.height - h) / 2, w, h);
    cover(pen, face, wide + 4, { width: SIZE.width - wide - 4, height: SIZE.height });
  };
  const timer = setInterval(draw, 50);
  return { stream: canvas.captureStream(20), end: () => clearInterval(timer) };
}

async function playing(stream: MediaStream): Promise<HTMLVideoElement> {
  const video = document.createElement("video");
  video.muted = true;
  video.srcObject = stream;
  await video.play();
  return video;
}
