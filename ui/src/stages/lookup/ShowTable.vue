<script setup lang="ts">
// The rows of a list, under headings that sort; groups with what they come to are one row each, sums per currency at the foot.
import { computed, ref, watch } from 'vue'
import type { ListCell, ListColumn, ListPage, ListRow, ListSums } from '@/api/client'
import { show, showDay, showMonth, price } from '@/parts/numbers'
import { placeTo } from '@/parts/places'
import { today } from '@/parts/session'

const props = defineProps<{
  page: ListPage
  rows: ListRow[]
  sums: ListSums | undefined
  sort: string
  grouped: boolean
}>()
const emit = defineEmits<{ sort: [by: string]; mark: [row: ListRow] }>()
const columns = computed(() => props.page.columns.filter((c) => c.shown))
const figures = ['money', 'base', 'quantity', 'price', 'percent', 'count', 'days', 'running']
const isFigure = (c: ListColumn) => figures.includes(c.kind)
const folded = ref(new Set<string>())
watch(
  () => props.page.key,
  () => (folded.value = new Set()),
)
function fold(name: string) {
  const now = new Set(folded.value)
  if (!now.delete(name)) now.add(name)
  folded.value = now
}
/** Rows with the groups that they begin. */
const lines = computed(() => {
  const all: { name: string; row?: ListRow; group?: ListSums['groups'][number] | undefined }[] = []
  let before: string | undefined
  for (const row of props.rows) {
    const name = row.group ?? ''
    if (props.grouped && name !== before) all.push({ name, group: props.sums?.groups.find((g) => g.name === name) })
    before = name
    if (!folded.value.has(name)) all.push({ name, row })
  }
  return all
})
function written(c: ListColumn, cell: ListCell | undefined): string {
  const t = cell?.t ?? ''
  if (c.kind === 'day') return showDay(t, today.value)
  if (c.key === 'month') return t ? showMonth(t) : ''
  if (c.kind === 'price') return t ? price(t) : ''
  if (c.kind === 'percent') return t ? `${show(t)} %` : ''
  if (isFigure(c)) return Number(t) === 0 ? '–' : show(t)
  return t
}
const place = (c: ListColumn, cell: ListCell | undefined) => (c.link && cell?.to ? placeTo(c.link, cell.to) : undefined)
const sortedBy = (c: ListColumn) =>
  props.sort === c.key ? 'ascending' : props.sort === `-${c.key}` ? 'descending' : undefined
const next = (c: ListColumn) => (props.sort === c.key ? `-${c.key}` : props.sort === `-${c.key}` ? '' : c.key)
/** How many columns a name stands over, before the first sum. */
const lead = computed(() =>
  Math.max(
    1,
    columns.value.findIndex((c) => ['money', 'base', 'count'].includes(c.kind)),
  ),
)
const foreign = computed(() => !columns.value.some((c) => c.key === 'currency') && (props.sums?.sums.length ?? 0) > 1)
</script>

<template>
  <table class="grid looked">
    <thead>
      <tr>
        <th v-for="c in columns" :key="c.key" :class="{ num: isFigure(c) }" :aria-sort="sortedBy(c)" scope="col">
          <button type="button" :class="{ sorted: sortedBy(c) }" @click="emit('sort', next(c))">
            {{ c.title
            }}<span v-if="sortedBy(c)" aria-hidden="true"> {{ sortedBy(c) === 'ascending' ? '▴' : '▾' }}</span>
          </button>
        </th>
        <th v-if="foreign" scope="col"><span class="visually-hidden">Currency</span></th>
      </tr>
    </thead>
    <tbody>
      <template v-for="(l, i) in lines" :key="i">
        <template v-if="!l.row">
          <tr v-for="(s, n) in l.group?.sums.length ? l.group.sums : [undefined]" :key="n" class="group">
            <td :colspan="lead">
              <button v-if="n === 0" type="button" :aria-expanded="!folded.has(l.name)" @click="fold(l.name)">
                <span aria-hidden="true">{{ folded.has(l.name) ? '▸' : '▾' }}</span> {{ l.name || 'none' }}
                <span class="muted fw-normal"
                  >{{ l.group?.count ?? '' }}{{ folded.has(l.name) ? ', folded' : '' }}</span
                >
              </button>
            </td>
            <td v-for="c in columns.slice(lead)" :key="c.key" :class="{ num: isFigure(c) }">
              {{ s && s.of[c.key] !== undefined ? written(c, { t: s.of[c.key] ?? '' }) : '' }}
            </td>
            <td v-if="foreign" class="muted">{{ s?.currency }}</td>
          </tr>
        </template>
        <tr v-else data-row @focusin="emit('mark', l.row)" @click="emit('mark', l.row)">
          <td
            v-for="(c, n) in columns"
            :key="c.key"
            :class="{
              num: isFigure(c),
              mono: c.kind === 'number',
              nowrap: c.kind === 'day' || c.kind === 'number',
              inner: grouped && n === 0,
              'outside-text': c.kind === 'flag',
              words: c.kind === 'text',
            }"
            :title="c.kind === 'text' && (l.row.cells[n]?.t.length ?? 0) > 24 ? l.row.cells[n]?.t : undefined"
          >
            <RouterLink v-if="place(c, l.row.cells[n])" :to="place(c, l.row.cells[n])!">{{
              written(c, l.row.cells[n])
            }}</RouterLink>
            <template v-else>{{ written(c, l.row.cells[n]) }}</template>
          </td>
          <td v-if="foreign" class="muted">{{ l.row.currency }}</td>
        </tr>
      </template>
    </tbody>
    <tfoot v-if="sums">
      <tr v-for="(s, n) in sums.sums" :key="s.currency" class="total">
        <td :colspan="lead">
          {{ n === 0 ? 'All' : '' }}<span class="visually-hidden"> in {{ s.currency }}</span>
        </td>
        <td v-for="c in columns.slice(lead)" :key="c.key" :class="{ num: isFigure(c) }">
          {{
            s.of[c.key] !== undefined ? written(c, { t: s.of[c.key] ?? '' }) : c.key === 'currency' ? s.currency : ''
          }}
        </td>
        <td v-if="foreign">{{ s.currency }}</td>
      </tr>
    </tfoot>
  </table>
</template>
