/**
 * The ramp exchange: how many mails the workspace's young mailboxes write to each other on a day, to whom and when. Small
 * numbers that rise, spread over the day, half of them answered.
 */
import { type DayNumber, HOUR, instantOnDay } from "../calendar.ts";
import { seeded } from "../random.ts";

export interface ExchangeMailbox {
  id: number;
  address: string;
  zone: string;
  /** Days since it began to take part. */
  age: number;
}

export interface ExchangeMail {
  fromId: number;
  toId: number;
  at: number;
  /** When it is answered; null: it is not. */
  answerAt: number | null;
}

const MOST_A_DAY = 6;
/** After so many days a mailbox is young no more. */
export const YOUNG_DAYS = 42;
const ANSWERED = 0.5;
const OPENS = 9 * 60;
const CLOSES = 16 * 60;

export const exchangeADay = (age: number): number =>
  age >= YOUNG_DAYS ? 0 : Math.min(MOST_A_DAY, 1 + Math.floor(age / 4));

/** One day's mails, the same for the same mailboxes and day. A mailbox alone has nobody to write to. */
export function exchangeOn(day: DayNumber, mailboxes: readonly ExchangeMailbox[]): ExchangeMail[] {
  const domainOf = (address: string) => address.split("@")[1];
  return mailboxes.flatMap(({ id, address, zone, age }) => {
    const draw = seeded("exchange", id, day);
    const strangers = mailboxes.filter((each) => domainOf(each.address) !== domainOf(address));
    const others = strangers.length > 0 ? strangers : mailboxes.filter((each) => each.id !== id);
    if (others.length === 0) return [];
    return Array.from({ length: exchangeADay(age) }, () => {
      const to = others[Math.floor(draw() * others.length)] as ExchangeMailbox;
      const at = instantOnDay(day, OPENS + draw() * (CLOSES - OPENS), zone);
      return {
        fromId: id,
        toId: to.id,
        at: Math.round(at),
        answerAt: draw() < ANSWERED ? Math.round(at + (0.5 + 2.5 * draw()) * HOUR) : null,
      };
    });
  });
}
