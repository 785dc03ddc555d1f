import { chromium } from "@playwright/test";
const [port, ...pairs] = process.argv.slice(2);
const b = await chromium.launch({ executablePath: "/usr/bin/chromium", args: "--no-sandbox --disable-gpu --disable-quic --no-first-run --disable-background-networking --disable-component-update --disable-sync".split(" ") });
const p = await b.newPage({ viewport: { width: 1280, height: 800 }, timezoneId: "Europe/Lisbon" });
p.on("console", m => m.type()==="error" && console.log("CONSOLE", m.text().slice(0,300)));
p.on("pageerror", e => console.log("PAGEERR", e.message.slice(0,300)));
await p.goto(`http://127.0.0.1:${port}/sign-in`);
await p.getByRole("button", { name: "Open the demo as Marta" }).click();
await p.getByTestId("clock").waitFor();
for (const pair of pairs) { const [name, path, ...acts] = pair.split("|");
  const t=Date.now();
  await p.goto(`http://127.0.0.1:${port}${path}`, { waitUntil: "networkidle" });
  for (const a of acts) { const [k,...v]=a.split("="); const val=v.join("=");
    if (k==="click") await p.getByRole("button",{name:val}).first().click();
    if (k==="text") await p.getByText(val).first().click();
    if (k==="link") await p.getByRole("link",{name:val}).first().click();
    if (k==="row") await p.getByRole("row").nth(Number(val)).getByRole("gridcell").nth(2).click();
    if (k==="check") await p.getByRole("checkbox",{name:"Select row"}).nth(Number(val)).check();
    if (k==="file") await p.locator("input[type=file]").first().setInputFiles(val);
    if (k==="wait") await p.waitForTimeout(Number(val));
  }
  await p.waitForTimeout(350);
  await p.screenshot({ path: `/tmp/shots/${name}.png` }); console.log(name, Date.now()-t, p.url()); }
await b.close();
