/** Free times right on a page: some of the next days, three of each; the booking page has the others. A form, so that it books without scripts. */
import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { INK } from "../../core/pages/colours";
import type { PersonalPage } from "../../server/pages/personal-page";
import type { useTongue } from "../public/tongue";
import { tell } from "./tell";

const DAYS = 5;
const OF_A_DAY = 3;

/** Of a day with many times the first, one in its middle and the last. */
const spread = (times: readonly number[]): number[] =>
  times.length <= OF_A_DAY
    ? [...times]
    : [times[0] as number, times[Math.floor(times.length / 2)] as number, times.at(-1) as number];

const field = {
  ...{
    font: "inherit",
    width: 1,
    border: "1px solid #cfc9b8",
    borderRadius: 1,
    bgcolor: "#fff",
    color: INK,
    px: 1.5,
    py: 1,
    minHeight: 44,
    boxSizing: "border-box",
  },
};

export function DayTimes({
  text,
  page,
  booking,
  spoken,
  base,
  zone,
  isPreview,
  isNarrow,
}: {
  text: string;
  page: PersonalPage;
  booking: NonNullable<PersonalPage["booking"]>;
  spoken: ReturnType<typeof useTongue>;
  base: string;
  zone: string;
  isPreview: boolean;
  isNarrow: boolean;
}) {
  const { t, day, time } = spoken;
  const [hasBegun, setBegun] = useState(false);
  const byDay = new Map<string, number[]>();
  for (const at of booking.times) byDay.set(day(at, zone), [...(byDay.get(day(at, zone)) ?? []), at]);
  const days = [...byDay].slice(0, DAYS);
  const begin = () => {
    if (!hasBegun && !isPreview) tell(base, { what: "booking" });
    setBegun(true);
  };
  const first = page.maker.name.split(" ")[0] ?? page.maker.name;
  return (
    <Box
      component="form"
      method="post"
      action={`/book/${booking.slug}?p=${booking.token}`}
      onSubmit={(event: React.FormEvent) => isPreview && event.preventDefault()}
      sx={{ borderTop: "1px solid #ddd8ca", mt: 5, pt: 2 }}
    >
      <Box
        sx={{
          display: "flex",
          flexWrap: "wrap",
          alignItems: "baseline",
          justifyContent: "space-between",
          columnGap: 3,
          mb: 2,
        }}
      >
        <Typography variant="letter" component="h2" sx={{ fontSize: 23, m: 0, fontWeight: 500 }}>
          {text}
        </Typography>
        <Box sx={{ fontSize: 13.5, color: "#5b6472" }}>
          {page.visitor.city
            ? t("page.yourTimeIn", { city: page.visitor.city })
            : `${t("page.yourTime")} (${zone.replaceAll("_", " ")})`}
          {" · "}
          {booking.where === "phone" ? t("booking.calls", { name: first }) : booking.place}
        </Box>
      </Box>
      <input type="hidden" name="length" value={booking.length} />
      <input type="hidden" name="zone" value={zone} />
      <Box
        role="radiogroup"
        aria-label={t("times.label")}
        sx={{
          display: "grid",
          gap: 2,
          gridTemplateColumns: isNarrow
            ? "minmax(0, 1fr)"
            : { xs: "minmax(0, 1fr)", md: `repeat(${days.length + 1}, minmax(0, 1fr))` },
        }}
      >
        {days.map(([label, ofDay]) => (
          <Box key={label} sx={{ minWidth: 0 }}>
            <Box sx={{ fontSize: 13.5, fontWeight: 600, mb: 1 }}>{label}</Box>
            <Box
              sx={{
                display: "grid",
                gap: 0.75,
                gridTemplateColumns: isNarrow ? "repeat(3, 1fr)" : { xs: "repeat(3, 1fr)", md: "1fr" },
              }}
            >
              {spread(ofDay).map((at) => (
                <Box key={at} component="label" sx={slot}>
                  <input type="radio" name="start" value={at} required onChange={begin} />
                  {time(at, zone)}
                </Box>
              ))}
            </Box>
          </Box>
        ))}
        <Box>
          <Box sx={{ fontSize: 13.5, fontWeight: 600, mb: 1 }}>{t("page.later")}</Box>
          <Box
            component="a"
            href={isPreview ? undefined : booking.address}
            sx={{ ...slot, borderStyle: "dashed", bgcolor: "transparent", textDecoration: "none" }}
          >
            {t("page.anotherDay")}
          </Box>
        </Box>
      </Box>
      <Box
        sx={{
          display: "grid",
          gap: 1.5,
          mt: 2.5,
          alignItems: "end",
          gridTemplateColumns: isNarrow ? "1fr" : { xs: "1fr", sm: "repeat(auto-fit, minmax(180px, 1fr))" },
        }}
      >
        <Labelled label={t("booking.name")}>
          <Box
            component="input"
            name="name"
            required
            maxLength={100}
            autoComplete="name"
            defaultValue={page.visitor.name}
            sx={field}
          />
        </Labelled>
        <Labelled label={t("booking.email")}>
          <Box
            component="input"
            name="email"
            type="email"
            required
            autoComplete="email"
            defaultValue={page.visitor.email}
            sx={field}
          />
        </Labelled>
        {booking.where === "phone" && (
          <Labelled label={t("booking.phone")}>
            <Box
              component="input"
              name="phone"
              type="tel"
              required
              maxLength={40}
              autoComplete="tel"
              defaultValue={page.visitor.phone}
              sx={field}
            />
          </Labelled>
        )}
        {booking.questions.map(({ text: question, required }, index) => (
          <Labelled key={question} label={required ? question : t("booking.optional", { question })}>
            <Box
              component="input"
              name={`question${index}`}
              required={required}
              maxLength={1000}
              sx={field}
            />
          </Labelled>
        ))}
        <Box
          component="button"
          type="submit"
          sx={{
            ...{
              font: "inherit",
              fontWeight: 650,
              minHeight: 44,
              border: 0,
              borderRadius: 1,
              px: 2.5,
              cursor: "pointer",
            },
            ...{
              bgcolor: "var(--accent)",
              color: "#fff",
              "&:focus-visible": { outline: `2px solid ${INK}`, outlineOffset: 2 },
            },
          }}
        >
          {t("page.book")}
        </Box>
      </Box>
    </Box>
  );
}

const slot = {
  ...{
    display: "block",
    position: "relative",
    textAlign: "center",
    border: "1px solid #cfc9b8",
    borderRadius: 1,
    bgcolor: "#fff",
  },
  ...{ py: 1.1, minHeight: 44, boxSizing: "border-box", cursor: "pointer", fontWeight: 600, fontSize: 14.5 },
  "&&": { color: "var(--accent)" },
  "&&:has(input:checked)": { bgcolor: "var(--accent)", borderColor: "var(--accent)", color: "#fff" },
  "&:has(input:focus-visible)": { outline: "2px solid var(--accent)", outlineOffset: 2 },
  "& input": { position: "absolute", inset: 0, width: 1, height: 1, m: 0, opacity: 0, cursor: "pointer" },
} as const;

function Labelled({ label, children }: { label: string; children: React.ReactNode }) {
  return (
    <Box component="label" sx={{ display: "grid", gap: 0.5, fontSize: 13.5 }}>
      {label}
      {children}
    </Box>
  );
}
