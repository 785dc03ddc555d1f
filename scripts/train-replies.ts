/** Trains the model that sorts replies anew: `npm run train:replies`. Writes core/replies/model.json and docs/sorting.md. */
import { readdirSync, readFileSync, writeFileSync } from "node:fs";
import { LABELS } from "../core/replies/labels.ts";
import { packModel } from "../core/replies/model-file.ts";
import { sortReply } from "../core/replies/sort.ts";
import {
  crossValidate,
  type Example,
  fitTemperature,
  readTraining,
  reliability,
  train,
  type Unseen,
} from "../core/replies/train.ts";

const root = new URL("../", import.meta.url);
const read = (path: string) => readFileSync(new URL(path, root), "utf8");
const folder = "core/replies/training/";
const examples = readdirSync(new URL(folder, root))
  .filter((name) => name.endsWith(".txt"))
  .sort()
  .flatMap((name) => readTraining(read(folder + name), name.replace(".txt", "")));
const known = examples.filter(({ label }) => (LABELS as readonly string[]).includes(label));

const unseen = crossValidate(known, LABELS);
const fitted = fitTemperature(unseen, LABELS);
const trained = train(known, LABELS);

const share = (some: number, all: number) => (all === 0 ? "–" : (some / all).toFixed(3));
const right = (of: readonly Unseen[]) => of.filter(({ example, label }) => example.label === label).length;

/** Letters that were written after the model and its phrases, and at which nothing was mended. */
const fresh = readTraining(read("core/replies/unseen.txt"), "several");
const judgeAll = (temperature: number) =>
  fresh.map((example) => ({
    example,
    label: sortReply(
      {
        text: example.text.replaceAll(" / ", "\n"),
        own: [],
        at: Date.UTC(2026, 5, 9),
        zone: "UTC",
        country: "",
      },
      { ...trained, temperature },
    ),
  }));

/** Of the letters that are called sure, so many are to be right: those of the training are kinder than life, so that these decide. */
const SURE_RIGHT = 0.98;
function carefulTemperature(): number {
  for (let temperature = fitted; temperature < 3; temperature += 0.05) {
    const sure = judgeAll(temperature).filter(({ label }) => label.sure);
    const right = sure.filter(({ example, label }) => example.label === label.label).length;
    if (right >= SURE_RIGHT * sure.length) return Number(temperature.toFixed(2));
  }
  return 3;
}
const temperature = carefulTemperature();
const model = { ...trained, temperature };
writeFileSync(new URL("core/replies/model.json", root), `${JSON.stringify(packModel(model))}\n`);
const judgedFresh = judgeAll(temperature);

const SIZE = 220;
function drawing(bins: ReturnType<typeof reliability>): string {
  const most = Math.max(...bins.map(({ count }) => count));
  const dots = bins
    .filter(({ count }) => count > 0)
    .map(
      ({ count, said, right: hit }) =>
        `<circle cx="${(30 + said * SIZE).toFixed(1)}" cy="${(20 + (1 - hit) * SIZE).toFixed(1)}" r="${(3 + 9 * Math.sqrt(count / most)).toFixed(1)}" fill="#1F4F8F" fill-opacity="0.8"><title>${count} letters: said ${said.toFixed(2)}, right ${hit.toFixed(2)}</title></circle>`,
    )
    .join("");
  return `<svg xmlns="http://www.w3.org/2000/svg" width="280" height="280" viewBox="0 0 280 280" font-family="sans-serif" font-size="11"><title>How often it is right, by how sure it says it is</title><rect width="280" height="280" fill="#FAF8F3"/><path d="M30 20V240H250" fill="none" stroke="#5C6275"/><path d="M30 240L250 20" stroke="#E0D9CA" stroke-dasharray="4 4"/>${dots}<text x="140" y="262" text-anchor="middle" fill="#5C6275">what it says</text><text x="14" y="130" text-anchor="middle" fill="#5C6275" transform="rotate(-90 14 130)">how often it is right</text></svg>\n`;
}
const bins = reliability(unseen, temperature);
writeFileSync(new URL("docs/sorting-reliability.svg", root), drawing(bins));

function confusion(of: readonly Unseen[]): string {
  const head = `| is \\ read as | ${LABELS.join(" | ")} | right |\n|---|${LABELS.map(() => "--:|").join("")}--:|`;
  const rows = LABELS.map((is) => {
    const own = of.filter(({ example }) => example.label === is);
    return `| ${is} | ${LABELS.map((as) => own.filter(({ label }) => label === as).length).join(" | ")} | ${share(right(own), own.length)} |`;
  });
  return [head, ...rows].join("\n");
}
const languages = [...new Set(unseen.map(({ example }) => example.language ?? ""))];
const perLanguage = languages
  .map((name) => {
    const own = unseen.filter(({ example }) => example.language === name);
    return `| ${name} | ${own.length} | ${share(right(own), own.length)} |`;
  })
  .join("\n");
const rightFresh = judgedFresh.filter(({ example, label }) => example.label === label.label);
const sureFresh = judgedFresh.filter(({ label }) => label.sure);
const rightOf = (list: typeof judgedFresh) =>
  share(list.filter(({ example, label }) => example.label === label.label).length, list.length);
const letters = (list: readonly Example[]) => list.length;

const page = read("docs/sorting.md");
const figures = `<!-- figures: written by npm run train:replies -->
**Cross-validated, eight folds.** ${letters(known)} lines (many with several wordings), each judged by a model that
had not seen it: ${share(right(unseen), unseen.length)} right. The phrases in \`cues.ts\` were collected with these lines in
view, so this figure is kinder than life.

${confusion(unseen)}

| file | lines | right |
|---|--:|--:|
${perLanguage}

**Letters written afterwards** (\`core/replies/unseen.txt\`, ${fresh.length} of them, plain ones and
literary ones, in several languages; nothing was mended by them): ${share(rightFresh.length, fresh.length)} right. Of the ${sureFresh.length} that the tool calls sure,
${rightOf(sureFresh)} are.

**Calibration.** Cross-validation alone would give a temperature of ${fitted}, which is too sure of strangers' letters: it is ${temperature}, so that ${Math.round(SURE_RIGHT * 100)} % of
the letters written afterwards that are called sure are right. Each dot is a tenth of what the model can say; on the dashed line it would be
right exactly as often as it says.

![How often it is right, by how sure it says it is](sorting-reliability.svg)
<!-- end of figures -->`;
writeFileSync(
  new URL("docs/sorting.md", root),
  page.replace(/<!-- figures:[\s\S]*<!-- end of figures -->/, () => figures),
);
process.stdout.write(
  `Cross-validated ${share(right(unseen), unseen.length)}, unseen ${share(rightFresh.length, fresh.length)}, temperature ${temperature}.\n`,
);
for (const { example, label } of judgedFresh)
  if (example.label !== label.label)
    process.stdout.write(
      `  ${example.label} read as ${label.label} (${label.confidence.toFixed(2)}): ${example.text}\n`,
    );
