// Going back keeps the place: what was scrolled how far, and which link had the focus, is kept for each step of the
// browser's history and put there again when one comes back to it.
import { nextTick } from 'vue'
import type { Router } from 'vue-router'

interface Place {
  /** How far each scrolling part of the page was, in their order. */
  scrolled: number[]
  /** Where the link led that had the focus. */
  link: string | null
}
const scrolling = '.pile, .body, .side'
/** How long a list may take to be there again, in frames. */
const patience = 60

const places = new Map<number, Place>()
const step = () => Number((history.state as { position?: number } | null)?.position ?? 0)
const parts = () => [...document.querySelectorAll<HTMLElement>(scrolling)]

/** Keeps the places of a router's pages. */
export function keepPlaces(router: Router) {
  let here = step()
  let coming: Place | undefined
  router.beforeEach(() => {
    const focused = document.activeElement
    places.set(here, {
      scrolled: parts().map((p) => p.scrollTop),
      link: focused instanceof HTMLAnchorElement ? focused.getAttribute('href') : null,
    })
  })
  router.afterEach(async () => {
    const back = step() < here
    here = step()
    coming = back ? places.get(here) : undefined
    if (!coming) return
    await nextTick()
    restore(coming, patience)
  })
  function restore(place: Place, left: number) {
    if (place !== coming) return
    const all = parts()
    place.scrolled.forEach((to, i) => all[i]?.scrollTo({ top: to }))
    const link = [...document.links].find((a) => place.link && a.getAttribute('href') === place.link)
    const there = place.scrolled.every((to, i) => Math.abs((all[i]?.scrollTop ?? 0) - to) < 2)
    if ((there && (link || !place.link)) || left === 0) link?.focus({ preventScroll: true })
    else requestAnimationFrame(() => restore(place, left - 1))
  }
}
