/** One of the things that can be chosen by typing. */
export interface Choice {
  value: string
  text: string
  also?: string
}

const begins = (whole: string, part: string) =>
  whole
    .toLowerCase()
    .split(/[\s·,/]+/)
    .some((word) => [word, ...word.split('-')].some((w) => w.startsWith(part)))

/** Whether every word that was typed begins a word of the choice: of its code, its name or the other side's code. */
export function fits(choice: Choice, typed: string): boolean {
  const parts = typed.trim().toLowerCase().split(/\s+/).filter(Boolean)
  return parts.every((p) => begins(`${choice.value} ${choice.text} ${choice.also ?? ''}`, p))
}
