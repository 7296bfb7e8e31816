import { ref } from 'vue'

export interface Notice {
  text: string
  bad?: boolean
  links?: { to: string; text: string }[]
}

/** What was booked, or why not: one sentence that stays until the next. */
export const notice = ref<Notice>()

export function tell(text: string, links: Notice['links'] = []): void {
  notice.value = { text, links }
}

export function warn(error: unknown): void {
  notice.value = { text: error instanceof Error ? error.message : String(error), bad: true }
}
