import { onBeforeUnmount, ref, watch, type Ref } from 'vue'
import { dropDraft, keptDraft, putDraft, useDraft } from './draft'

/**
 * Keeps what is typed into a small form that opens and closes: left and opened again it stands as it was, also after a reload.
 * The form is open while it has a value; its name says which one it is.
 */
export function useKept<T extends object>(form: Ref<T | undefined>, name: (form: T) => string) {
  const again = ref(false) // what stands there was typed before
  let fresh = ''
  let key = ''
  function keep(now: T) {
    if (JSON.stringify(now) === fresh) dropDraft(key)
    else putDraft(key, now)
  }
  watch(
    form,
    (now, before) => {
      if (!now) return
      if (before && name(now) === key) return keep(now)
      key = name(now)
      fresh = JSON.stringify(now)
      const typed = keptDraft<T>(key)
      again.value = typed !== undefined
      if (typed) form.value = { ...now, ...typed }
    },
    { deep: true, flush: 'sync' },
  )
  /** It was sent: nothing of it is kept, and it closes. */
  function done() {
    if (form.value) dropDraft(name(form.value))
    form.value = undefined
  }
  return { again, done }
}

/**
 * Keeps what is typed into a panel that goes once what it asks for was done: left and opened again it stands as it was, and a
 * sending that failed keeps it as well.
 */
export function useKeptPanel<T extends object>(name: string, fresh: () => T, failed: () => boolean) {
  const { draft, kept, clear } = useDraft(name, fresh)
  let sent = false
  onBeforeUnmount(() => {
    if (sent && !failed()) clear()
  })
  return { draft, kept, clear, send: () => (sent = true), leave: () => (sent = false) }
}
