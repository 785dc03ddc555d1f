/** Which page is before somebody's eyes, and for how long: told to the server every few seconds, and when they leave. */
import { useCallback, useEffect, useRef, useState } from "react";
import { tell } from "./tell";

/** Seconds after which nobody is taken to be reading who touches nothing. */
const AWAKE = 90;
const TELLS_EVERY = 10;
/** What lies beneath the bar at the top is not seen, in CSS pixels. */
const BAR = 76;
/** Less is nobody's reading. */
const LEAST = 2;

export interface Reading {
  /** How many pages the file has; 0 until that is known. */
  pages: number;
  /** The one that most of the window shows, from 1. */
  page: number;
  setPages: (count: number) => void;
  /** For the element of a page, which says its number as `data-page`. */
  watch: (element: HTMLElement | null) => (() => void) | undefined;
}

export function useReading(base: string): Reading {
  const [pages, setPages] = useState(0);
  const [page, setPage] = useState(1);
  const heights = useRef(new Map<number, number>());
  const observer = useRef<IntersectionObserver | null>(null);
  const now = useRef({ page: 1, pages: 0 });
  now.current = { page, pages };

  const look = useCallback((entries: readonly IntersectionObserverEntry[]) => {
    for (const { target, intersectionRect } of entries)
      heights.current.set(Number((target as HTMLElement).dataset.page), intersectionRect.height);
    const [most] = [...heights.current].sort(([a, one], [b, other]) => other - one || a - b);
    if (most && most[1] > 0) setPage(most[0]);
  }, []);
  const watch = useCallback<Reading["watch"]>(
    (element) => {
      if (!element) return;
      observer.current ??= new IntersectionObserver(look, {
        rootMargin: `-${BAR}px 0px 0px 0px`,
        threshold: [0, 0.1, 0.25, 0.5, 0.75, 1],
      });
      observer.current.observe(element);
      return () => {
        observer.current?.unobserve(element);
        heights.current.delete(Number(element.dataset.page));
      };
    },
    [look],
  );

  useEffect(() => {
    let awakeUntil = Date.now() + AWAKE * 1000;
    let seconds: Record<string, number> = {};
    let sum = 0;
    let since = 0;
    const wake = () => {
      awakeUntil = Date.now() + AWAKE * 1000;
    };
    const send = () => {
      if (sum === 0) return;
      tell(base, { pages: now.current.pages, seconds });
      seconds = {};
      sum = 0;
      since = 0;
    };
    const count = setInterval(() => {
      const { page: at, pages: all } = now.current;
      since++;
      if (all > 0 && document.visibilityState === "visible" && Date.now() < awakeUntil) {
        seconds[at] = (seconds[at] ?? 0) + 1;
        sum++;
      }
      if (sum >= LEAST && (since >= TELLS_EVERY || isFirst)) {
        isFirst = false;
        send();
      }
    }, 1000);
    let isFirst = true;
    const leave = () => {
      if (document.visibilityState === "hidden" && (!isFirst || sum >= LEAST)) send();
    };
    const signs = ["scroll", "pointermove", "keydown", "touchstart"] as const;
    for (const sign of signs) addEventListener(sign, wake, { passive: true });
    document.addEventListener("visibilitychange", leave);
    return () => {
      clearInterval(count);
      for (const sign of signs) removeEventListener(sign, wake);
      document.removeEventListener("visibilitychange", leave);
      if (!isFirst) send();
    };
  }, [base]);
  return { pages, page, setPages, watch };
}
