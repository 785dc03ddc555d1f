/** Where every thread begins (server/threads.ts): in plain JavaScript, since a thread's first file is read before any loader is. */
import { workerData } from "node:worker_threads";
import { register } from "tsx/esm/api";

register();
await import(workerData.file);
