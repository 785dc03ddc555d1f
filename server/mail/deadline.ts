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
