import { ref } from 'vue'

export interface Notice {
  text: string
  bad?: boolean
  links?: { to: string; text: string }[]
}

/** What was booked, or why not: one sentence that stays until the next, or until the person goes elsewhere. */
export const notice = ref<Notice>()

// Whether the person has done something since it was told. What goes on by itself after an act takes its notice along.
let since = false
export function acted(): void {
  since = true
}
export function left(): void {
  if (since || notice.value?.bad) notice.value = undefined
}

export function tell(text: string, links: Notice['links'] = []): void {
  since = false
  notice.value = { text, links }
}

export function warn(error: unknown): void {
  since = false
  notice.value = { text: error instanceof Error ? error.message : String(error), bad: true }
}
