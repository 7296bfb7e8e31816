import { computed, type Ref } from 'vue'
import type { DeliveryPreview, OrderLine } from '@/api/client'
import { lotsOf, type DeliveryDraft } from './count'
import type { useCounting } from './counting'

/** What is found and what is wrong, line by line: by the preview, and by a refusal, which tells the place of a line in what was sent. */
export function useLineProblems(
  preview: Ref<DeliveryPreview | undefined>,
  counting: ReturnType<typeof useCounting>,
  draft: Ref<DeliveryDraft>,
  problem: (field: string) => string | undefined,
) {
  const places = computed(() => new Map(counting.lines.value.map((l, i) => [l.no, i])))
  const findings = computed(() => new Map(preview.value?.findings.map((f) => [f.line, f])))
  const found = (no: number) => findings.value.get(no)
  /** What the preview finds wrong with each line; of lots by themselves. */
  const foretold = computed(() => {
    const all = new Map<string, string>()
    for (const p of preview.value?.problems ?? []) {
      const [, place, name] = /^lines\[(\d+)\]\.(.*)$/.exec(p.field) ?? []
      const key = name === 'lots' ? `${place} lots` : place
      if (key !== undefined && p.kind !== 'changed' && !all.has(key)) all.set(key, p.sentence)
    }
    return all
  })
  function lineProblem(no: number): string | undefined {
    const at = places.value.get(no)
    if (at === undefined) return undefined
    const refused =
      problem(`lines[${at}].quantity`) ??
      problem(`lines[${at}].unit`) ??
      problem(`lines[${at}].close`) ??
      problem(`lines[${at}].refused`)
    if (refused) return findings.value.get(no)?.verdict === 'outside' ? undefined : refused
    return foretold.value.get(String(at))
  }
  /** What is wrong with lots is said once something of them is typed, or the booking was refused. */
  function lotProblem(l: OrderLine): string | undefined {
    const at = places.value.get(l.no)
    return (
      problem(`lines[${at}].lots`) ??
      (lotsOf(draft.value.counts[l.no], counting.quantity(l)).length ? foretold.value.get(`${at} lots`) : undefined)
    )
  }
  return { findings, found, lineProblem, lotProblem }
}
