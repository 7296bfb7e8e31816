/** A place on a page, in thousandths of it. */
export interface Spot {
  left: number
  top: number
  right: number
  bottom: number
}

/** The frame around a place: a little more than the place itself, so that its words are seen. */
export const frameOf = (s: Spot) => ({
  left: `${(s.left - 6) / 10}%`,
  top: `${(s.top - 4) / 10}%`,
  width: `${(s.right - s.left + 12) / 10}%`,
  height: `${(s.bottom - s.top + 8) / 10}%`,
})
