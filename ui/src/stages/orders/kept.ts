// An order that is being written and was kept with a number: opened once, and looked at again when somebody else kept it.
import { ref, type Ref } from 'vue'
import { api, unwrap, type Draft } from '@/api/client'
import { emptyLine, freshOrder, withoutBudgetFirst, type DraftOrder } from './entry'

export function useKeptDraft(
  number: number | undefined,
  draft: Ref<DraftOrder>,
  kept: boolean,
  begin: (order: DraftOrder) => void,
) {
  const readDraft = () => unwrap(api.GET('/api/drafts/{number}', { params: { path: { number: number! } } }))
  /** The draft as somebody else kept it meanwhile, and why there is none any more. */
  const theirs = ref<Draft>()
  const ended = ref('')
  function take(d: Draft) {
    const order = {
      ...freshOrder(),
      ...(d.entry as Partial<DraftOrder>),
      draft: { number: d.number, version: d.version },
    }
    order.lines = withoutBudgetFirst([...order.lines.map((l) => ({ ...emptyLine(), ...l })), emptyLine()])
    begin(order)
  }
  /** A kept draft is read once, from then on what is typed counts; what was typed over it here before stays. */
  async function openDraft() {
    try {
      const now = await readDraft()
      if (!kept) take(now)
      else if (now.version !== draft.value.draft?.version) theirs.value = now
    } catch (e) {
      ended.value = (e as Error).message
    }
  }
  if (number) void openDraft()
  /** After a refusal that said so: the next try is about the draft as it is now. */
  async function seeAgain() {
    theirs.value = await readDraft().catch(() => undefined)
    if (theirs.value) draft.value.draft = { number: theirs.value.number, version: theirs.value.version }
  }
  function takeTheirs() {
    if (theirs.value) take(theirs.value)
    theirs.value = undefined
  }
  return { theirs, ended, takeTheirs, seeAgain }
}
