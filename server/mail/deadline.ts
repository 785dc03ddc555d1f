/** Work that has to come to an end: `giveUp` is called, and it fails with ETIMEDOUT, after `ms`. */
export async function withDeadline<T>(ms: number, work: Promise<T>, giveUp: () => void): Promise<T> {
  let late: NodeJS.Timeout | undefined;
  const tooLate = new Promise<never>((_, reject) => {
    late = setTimeout(() => {
      reject(Object.assign(new Error("It did not come to an end in time."), { code: "ETIMEDOUT" }));
      giveUp();
    }, ms);
  });
  work.catch(() => {}); // what comes of it later is nobody's business any more
  try {
    return await Promise.race([work, tooLate]);
  } finally {
    clearTimeout(late);
  }
}

/** Like `withDeadline`, for work in stages: `allow` gives what follows a time of its own, from now on. */
export async function withDeadlines<T>(
  ms: number,
  work: (allow: (ms: number) => void) => Promise<T>,
  giveUp: () => void,
): Promise<T> {
  let late: NodeJS.Timeout | undefined;
  let allow: (ms: number) => void = () => {};
  const tooLate = new Promise<never>((_, reject) => {
    allow = (time) => {
      clearTimeout(late);
      late = setTimeout(() => {
        reject(Object.assign(new Error("It did not come to an end in time."), { code: "ETIMEDOUT" }));
        giveUp();
      }, time);
    };
  });
  allow(ms);
  const doing = work(allow);
  doing.catch(() => {}); // what comes of it later is nobody's business any more
  try {
    return await Promise.race([doing, tooLate]);
  } finally {
    clearTimeout(late);
  }
}
