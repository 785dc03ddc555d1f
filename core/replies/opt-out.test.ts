/** Opt-outs that are acted on alone: nothing else may be meant by them. */
import { describe, expect, it } from "vitest";
import { isOptOutSubject, stopWords } from "./opt-out.ts";

describe("an opt-out in plain words", () => {
  it.each([
    "stop",
    "Unsubscribe",
    "Hi,\nplease remove me.\nThanks, Jo",
    "Kindly take us off your mailing list.",
    "If possible, remove my address from your database.",
    "Do not contact me again.",
    "Lose this address.",
    "Could you stop sending me these?",
    "Please ensure that nobody here receives any further correspondence.",
    "unsubscribe jo@kai.example",
    "Bitte streichen Sie mich aus dem Verteiler.",
    "Merci de ne plus m'écrire.",
    "No me escriban más.",
    "Non scrivetemi più, grazie. Mi cancelli dalla lista.",
    "Proszę mnie wypisać. Nie chcę otrzymywać maili.",
    "Отпишите меня.",
    "לא מעוניין לקבל, נא להסיר אותי",
    "احذفوا عنواني من القائمة",
    "リストから削除してください",
    "请不要再给我发邮件",
    "수신 거부",
    "मुझे सूची से हटा दें",
    "Παρακαλώ διαγράψτε με.",
    "Beni listenizden çıkarın.",
  ])("%s", (text) => expect(stopWords(text).plain).not.toBeNull());

  it.each([
    "Don't stop, I like your letters.",
    "Please do not unsubscribe me yet.",
    "Stop by on Thursday.",
    "Stop emailing me until September.",
    "Don't call me, email me.",
    "Take me off as the contact, it's Joss now.",
    "Please remove me from the quote and leave Ana in.",
    "Remove me and add Jo instead.",
    "Can members unsubscribe from single topics?",
    "What happens if somebody writes “unsubscribe me”?",
    "Does your tool delete our data when we leave?",
    "I unsubscribed from three others, yours is relevant.",
    "We need forty stop signs.",
    "Remove clause 4, then we sign.",
    'You wrote "answer stop to be taken off". Why?',
    "Wenn ein Kunde sagt, nehmen Sie mich aus dem Verteiler, was dann?",
  ])("is not: %s", (text) => expect(stopWords(text).plain).toBeNull());

  it("marks its own sentence", () => {
    const text = "Hello,\nplease take me off your list.\nJo";
    const [from, to] = stopWords(text).plain as [number, number];
    expect(text.slice(from, to)).toBe("please take me off your list.");
  });

  it("stands in a subject by itself", () => {
    for (const subject of ["Unsubscribe", "REMOVE", "please take me off your list"])
      expect(isOptOutSubject(subject)).toBe(true);
    for (const subject of ["Stop signs", "Removal of the old shelf", "Our opt-out page"])
      expect(isOptOutSubject(subject)).toBe(false);
  });
});
