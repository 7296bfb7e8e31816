import { beforeEach, describe, expect, it, vi } from 'vitest'
import { effectScope, nextTick } from 'vue'
import { keptDraft, keptDrafts, putDraft, useDraft } from '@/parts/draft'

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
