import { beforeEach, describe, expect, it, vi } from 'vitest'
import { effectScope, nextTick, ref } from 'vue'
import { keptDraft, keptDrafts, putDraft, useDraft } from '@/parts/draft'
import { useKept } from '@/parts/kept'

const kept = new Map<string, string>()
const listeners: Record<string, () => void> = {}
beforeEach(() => {
  kept.clear()
  vi.stubGlobal('window', {
    addEventListener: (name: string, run: () => void) => (listeners[name] = run),
    removeEventListener: () => {},
  })
  vi.stubGlobal(
    'localStorage',
    new Proxy(
      {
        getItem: (k: string) => kept.get(k) ?? null,
        setItem: (k: string, v: string) => kept.set(k, v),
        removeItem: (k: string) => kept.delete(k),
      },
      { ownKeys: () => [...kept.keys()], getOwnPropertyDescriptor: () => ({ enumerable: true, configurable: true }) },
    ),
  )
})
const fresh = () => ({ note: '', count: '' })
const open = () => effectScope().run(() => useDraft('delivery.4100', fresh))!

describe('a draft', () => {
  it('is kept over a reload with the time, and gone once it is booked', async () => {
    const first = open()
    expect(first.kept).toBe(false)
    first.draft.value.note = 'DN 1'
    await nextTick()
    listeners['pagehide']!()
    const second = open()
    expect(second.draft.value).toEqual({ note: 'DN 1', count: '' })
    expect(Date.now() - Date.parse(second.keptAt)).toBeLessThan(60_000)
    expect(keptDrafts('delivery.').map((d) => d.rest)).toEqual(['4100'])
    second.clear()
    expect(keptDraft('delivery.4100')).toBeUndefined()
    expect(open().kept).toBe(false)
  })
  it('is none while nothing was typed, nor where what it began with stands', async () => {
    const it_ = open()
    it_.begin({ note: 'from the order', count: '' })
    await nextTick()
    listeners['pagehide']!()
    expect(kept.size).toBe(0)
  })
  it('drops what it cannot read', () => {
    kept.set('lagoon.draft.delivery.4100', '{broken')
    expect(open().draft.value).toEqual(fresh())
    kept.set('lagoon.draft.delivery.4100', JSON.stringify({ note: 'of another form' }))
    expect(open().draft.value).toEqual(fresh())
    expect(kept.size).toBe(0)
  })
  it('takes the place of what is kept', () => {
    putDraft('order', { note: 'a' })
    putDraft('order', { note: 'b' })
    expect(keptDraft('order')).toEqual({ note: 'b' })
  })
})

describe('a small form', () => {
  it('stands as it was when it is opened again, and is gone once it was sent', () => {
    effectScope().run(() => {
      const form = ref<{ no?: number; text: string }>()
      const { again, done } = useKept(form, (f) => `note.${f.no ?? 'new'}`)
      form.value = { text: '' }
      expect(again.value).toBe(false)
      form.value.text = 'rings before he comes'
      form.value = undefined // left
      form.value = { no: 2, text: 'another one' }
      expect([again.value, form.value.text]).toEqual([false, 'another one'])
      form.value = undefined
      form.value = { text: '' }
      expect([again.value, form.value.text]).toEqual([true, 'rings before he comes'])
      done()
      expect(form.value).toBeUndefined()
      form.value = { text: '' }
      expect([again.value, form.value.text]).toEqual([false, ''])
    })
  })
  it('keeps nothing that was taken back', () => {
    effectScope().run(() => {
      const form = ref<{ text: string }>()
      const { again } = useKept(form, () => 'note')
      form.value = { text: 'as it is' }
      form.value.text = 'otherwise'
      form.value.text = 'as it is'
      form.value = undefined
      form.value = { text: 'as it is' }
      expect(again.value).toBe(false)
    })
  })
})
