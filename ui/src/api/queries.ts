// What many pages ask for, with the key that it is kept under.
import { queryOptions } from '@tanstack/vue-query'
import { api, unwrap } from './client'

/** Suppliers by name; `more` where the list stops before its end. */
export const supplierList = queryOptions({ queryKey: ['suppliers'], queryFn: () => unwrap(api.GET('/api/suppliers')) })
export const suppliersQuery = queryOptions({ ...supplierList, select: (list) => list.rows })

/** Those that may be ordered from: not the ended ones. */
export const sellersQuery = queryOptions({ ...supplierList, select: (list) => list.rows.filter((s) => !s.ended) })

/** Items by name; `more` where the list stops before its end. */
export const itemList = queryOptions({ queryKey: ['items'], queryFn: () => unwrap(api.GET('/api/items')) })
export const itemsQuery = queryOptions({ ...itemList, select: (list) => list.rows })

/** What the company has decided for all. */
export const companyQuery = queryOptions({ queryKey: ['company'], queryFn: () => unwrap(api.GET('/api/company')) })

/** What lies at the door, and what is announced. */
export const doorQuery = queryOptions({ queryKey: ['door'], queryFn: () => unwrap(api.GET('/api/door')) })

/** Orders that goods are expected on, by day; `more` where the list stops before its end. */
export const expectedList = queryOptions({ queryKey: ['receiving'], queryFn: () => unwrap(api.GET('/api/receiving')) })

/** Those of them that goods are to come on; work that is accepted comes to no door. */
export const goodsList = queryOptions({
  ...expectedList,
  select: (list) => ({ ...list, rows: list.rows.filter((o) => o.work < o.lines - o.done) }),
})

/** How much of each stage is one's own turn. */
export const courseQuery = queryOptions({ queryKey: ['course'], queryFn: () => unwrap(api.GET('/api/course')) })

/** What is held, and why. */
export const holdsQuery = queryOptions({ queryKey: ['holds'], queryFn: () => unwrap(api.GET('/api/holds')) })

/** What can be released and paid, and the runs. */
export const paymentsQuery = queryOptions({ queryKey: ['payments'], queryFn: () => unwrap(api.GET('/api/payments')) })

/** Our account at the bank. */
export const bankQuery = queryOptions({ queryKey: ['bank'], queryFn: () => unwrap(api.GET('/api/bank')) })

/** What money leaves when. */
export const cashQuery = queryOptions({ queryKey: ['cash'], queryFn: () => unwrap(api.GET('/api/cash')) })

/** Money ahead that is open. */
export const aheadQuery = queryOptions({ queryKey: ['ahead'], queryFn: () => unwrap(api.GET('/api/ahead')) })

/** Groups of suppliers with what they propose, and those that items are in. */
export const groupsQuery = queryOptions({ queryKey: ['groups'], queryFn: () => unwrap(api.GET('/api/groups')) })

/** What each limit held in the last year, and what was tried before. */
export const trialsQuery = queryOptions({ queryKey: ['trials'], queryFn: () => unwrap(api.GET('/api/limit-trials')) })

/** What can be looked up, and what is kept of it. */
export const listsQuery = queryOptions({ queryKey: ['lists'], queryFn: () => unwrap(api.GET('/api/lists')) })
