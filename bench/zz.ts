import Papa from "papaparse";
import { lookThrough } from "../server/imports/look-through.ts";
import { runImport } from "../server/imports/run-import.ts";
import { uploadImport } from "../server/imports/upload-import.ts";
import { freshApp } from "./fresh-app.ts";
import { inventRows } from "./people.ts";

const people = inventRows(100000);
const text = Papa.unparse({
  fields: [
    "First name",
    "Last name",
    "Email",
    "Company",
    "Website",
    "Job title",
    "City",
    "Country",
    "Phone",
    "Rooms",
  ],
  data: people.map((p) => [
    p.first,
    p.last,
    p.email,
    p.company,
    p.website,
    p.title,
    p.city,
    p.country,
    p.phone,
    p.rooms,
  ]),
});
const { app, close } = freshApp();
let m = 0;
let c = 0;
const w = () => {
  if (c++ % 50 === 0) m = Math.max(m, process.memoryUsage.rss() / 1e6);
  return false;
};
let t = performance.now();
const lap = (n: string) => {
  const x = performance.now();
  console.log(n, Math.round(x - t), "ms", Math.round(process.memoryUsage.rss() / 1e6), "MB");
  t = x;
};
const u: any = uploadImport(app, null, { name: "b.csv", bytes: new TextEncoder().encode(text) });
lap("upload");
await lookThrough(app, u.value, w);
lap("look");
let last = 0;
await runImport(app, u.value, (a, b) => {
  last = performance.now();
  return false;
});
console.log("after chunks", Math.round(performance.now() - last));
lap("import");
console.log("max", m);
close();
