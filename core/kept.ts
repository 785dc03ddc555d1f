/** Answers that are asked for again and again; forgotten all at once when they get too many. Never keep what is changed later. */
export class Kept<T> {
  private readonly answers = new Map<string, T>();

  get(key: string, compute: () => T): T {
    const known = this.answers.get(key);
    if (known !== undefined) return known;
    if (this.answers.size >= 50_000) this.answers.clear();
    const fresh = compute();
    this.answers.set(key, fresh);
    return fresh;
  }
}
