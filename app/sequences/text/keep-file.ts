/** Hands a file to the app; its number and what to know of it, or what is wrong with it. */
export async function keepFile(
  file: File,
  as: "picture" | "attachment",
): Promise<{ id: number; name: string; note: string | null } | { problem: string }> {
  const form = new FormData();
  form.set("file", file);
  form.set("as", as);
  try {
    const response = await fetch("/files", { method: "POST", body: form });
    if (!response.ok) return { problem: await response.text() };
    const answer = (await response.json()) as {
      id?: number;
      name?: string;
      note?: string | null;
      errors?: Record<string, string>;
    };
    return answer.id === undefined
      ? { problem: Object.values(answer.errors ?? {}).join(" ") || "The file was not taken." }
      : { id: answer.id, name: answer.name ?? file.name, note: answer.note ?? null };
  } catch {
    return { problem: "No connection. The file was not kept; try again." };
  }
}
