<script setup lang="ts">
// A list that is looked up: one line says what it shows; it is sorted, grouped, summed, kept and taken along as it stands.
import { computed, defineAsyncComponent, nextTick, ref, useTemplateRef, watch } from 'vue'
import { useInfiniteQuery, useQuery } from '@tanstack/vue-query'
import { api, unwrap, type ListRow } from '@/api/client'
import NoticeBar from '@/parts/NoticeBar.vue'
import PickField from '@/parts/PickField.vue'
import TickBox from '@/parts/TickBox.vue'
import { useKeys } from '@/parts/keys'
import { showDay } from '@/parts/numbers'
import { may, today } from '@/parts/session'
import KeepList from './KeepList.vue'
import MailList from './MailList.vue'
import ListRail from './ListRail.vue'
import RowBeside from './RowBeside.vue'
import ShowLine from './ShowLine.vue'
import ShowTable from './ShowTable.vue'
import { fileOf, useAsked } from './show'

/** What draws is loaded where something is drawn. */
const PricesDrawn = defineAsyncComponent(() => import('./PricesDrawn.vue'))

const { list, asked, go, change } = useAsked()
/** What is asked, without what is empty. */
const query = computed(() => {
  const { show, sort, group, columns } = asked.value
  return { ...(show && { show }), ...(sort && { sort }), ...(group && { group }), ...(columns && { columns }) }
})
const { data, error, isPending, hasNextPage, fetchNextPage, isFetchingNextPage } = useInfiniteQuery({
  queryKey: ['list', list, query],
  queryFn: ({ pageParam }) =>
    unwrap(
      api.GET('/api/lists/{list}', {
        params: { path: { list: list.value }, query: { ...query.value, from: pageParam } },
      }),
    ),
  initialPageParam: 0,
  getNextPageParam: (page, all) => (page.more ? all.reduce((n, p) => n + p.rows.length, 0) : undefined),
  placeholderData: (before) => (before?.pages[0]?.key === list.value ? before : undefined),
})
const page = computed(() => data.value?.pages[0])
const rows = computed(() => data.value?.pages.flatMap((p) => p.rows) ?? [])
const { data: sums, error: unsummed } = useQuery({
  queryKey: ['list sums', list, query],
  queryFn: () => {
    const rest = { ...query.value, sort: undefined }
    delete rest.sort // sums are the same in any order
    return unwrap(api.GET('/api/lists/{list}/sums', { params: { path: { list: list.value }, query: rest } }))
  },
})

const panel = ref<'' | 'columns' | 'keep' | 'mail'>('')
watch(list, () => ((panel.value = ''), (marked.value = undefined)))
const groups = computed(() => [
  { value: '', text: 'no groups' },
  ...(page.value?.columns ?? [])
    .filter((c) => c.groups)
    .map((c) => ({ value: c.key, text: `by ${c.title.toLowerCase()}` })),
])
const shown = computed(() => page.value?.columns.filter((c) => c.shown).map((c) => c.key) ?? [])
function tick(key: string, on: boolean) {
  const all = page.value?.columns ?? []
  const now = on ? [...shown.value, key] : shown.value.filter((k) => k !== key)
  if (now.length)
    void change({
      columns: all
        .map((c) => c.key)
        .filter((k) => now.includes(k))
        .join(','),
    })
}

const marked = ref<ListRow>()
const beside = ref(localStorage.getItem('lagoon.beside') === 'on')
watch(beside, (on) => localStorage.setItem('lagoon.beside', on ? 'on' : 'off'))
/** What the marked row is about: the first of its links that has something to be read beside. */
const about = computed(() => {
  const columns = page.value?.columns.filter((c) => c.shown) ?? []
  for (const kind of ['invoice', 'order'])
    for (const [i, c] of columns.entries()) {
      const to = marked.value?.cells[i]?.to
      if (c.link === kind && to) return { kind, number: Number(to) }
    }
  return { kind: '', number: 0 }
})

const line = useTemplateRef<{ focus: () => void }>('line')
const body = ref<HTMLElement>()
function move(step: number) {
  const all = [...(body.value?.querySelectorAll<HTMLElement>('tr[data-row]') ?? [])]
  const at = all.findIndex((r) => r.contains(document.activeElement))
  const next = all[at < 0 ? (step > 0 ? 0 : all.length - 1) : Math.max(0, Math.min(all.length - 1, at + step))]
  next?.querySelector<HTMLElement>('a')?.focus()
}
async function columnsOpen() {
  panel.value = panel.value === 'columns' ? '' : 'columns'
  await nextTick()
  document.querySelector<HTMLElement>('#list-columns input')?.focus()
}
useKeys(() => [
  { key: 's', label: 'show', run: () => line.value?.focus() },
  { key: 'ArrowDown', label: 'rows', run: () => move(1) },
  { key: 'ArrowUp', label: 'rows', run: () => move(-1), quiet: true },
  {
    key: 'p',
    label: beside.value ? 'nothing beside' : 'paper or story beside',
    run: () => (beside.value = !beside.value),
  },
  { key: 'g', label: 'group', run: () => document.getElementById('list-group')?.focus() },
  { key: 'd', label: 'columns', run: () => void columnsOpen() },
  { key: 'k', label: 'keep', run: () => (panel.value = 'keep') },
  ...(may('mailList') ? [{ key: 'm', label: 'mail', run: () => (panel.value = 'mail') }] : []),
  { key: 'e', label: 'take along', run: () => document.getElementById('list-take')?.focus() },
  ...(hasNextPage.value ? [{ key: 'w', label: 'more rows', run: () => void fetchNextPage() }] : []),
])
</script>

<template>
  <main class="desk looks">
    <ListRail />
    <section class="sheet" :aria-label="page?.title ?? 'List'">
      <NoticeBar />
      <header>
        <div class="headline">
          <h1>{{ page?.title ?? 'Look up' }}</h1>
          <b v-if="page && page.at !== today">on {{ showDay(page.at, today) }}</b>
          <span v-if="page" class="muted small">{{ page.says }}</span>
        </div>
        <ShowLine v-if="page" ref="line" :page="page" @show="(show) => change({ show })" />
      </header>
      <KeepList
        v-if="panel === 'keep' && page"
        :list="list"
        :asked="{ ...asked, show: page.show }"
        :title="page.title"
        @close="panel = ''"
      />
      <MailList
        v-if="panel === 'mail' && page"
        :list="list"
        :asked="{ ...asked, show: page.show }"
        :title="page.title"
        @close="panel = ''"
      />
      <fieldset
        v-if="panel === 'columns' && page"
        id="list-columns"
        class="columns"
        data-own-keys
        @keydown.esc="panel = ''"
      >
        <legend class="visually-hidden">Columns</legend>
        <TickBox
          v-for="c in page.columns"
          :key="c.key"
          inline
          :model-value="c.shown"
          @update:model-value="(on: boolean) => tick(c.key, on)"
          >{{ c.title }}</TickBox
        >
        <button type="button" class="linkish" @click="change({ columns: '' })">as it was</button>
      </fieldset>
      <div v-if="error" class="nothing" role="alert">
        <p>{{ error.message }}</p>
        <BButton variant="outline-secondary" @click="go({ show: '', sort: '', group: '', columns: '' })"
          >Show it as it was</BButton
        >
      </div>
      <div v-else-if="page" ref="body" class="body" tabindex="0">
        <PricesDrawn v-if="page.key === 'prices' && rows.length > 1" :page="page" :rows="rows" />
        <p v-if="!isPending && rows.length === 0" class="nothing">
          Nothing fits {{ page.tags.length ? 'all of these words. Take one out above.' : 'here yet.' }}
        </p>
        <ShowTable
          v-else
          :page="page"
          :rows="rows"
          :sums="sums"
          :sort="asked.sort"
          :grouped="asked.group !== ''"
          @sort="(sort) => change({ sort })"
          @mark="(row) => (marked = row)"
        />
        <BButton
          v-if="hasNextPage"
          class="mt-2"
          variant="outline-secondary"
          :disabled="isFetchingNextPage"
          @click="() => fetchNextPage()"
          >More rows</BButton
        >
      </div>
      <footer v-if="page" class="bar listed">
        <span class="small">
          <template v-if="sums">
            <b>{{ sums.count.toLocaleString('en-GB') }} {{ sums.count === 1 ? 'row' : 'rows' }}</b
            >, {{ rows.length === sums.count ? 'all shown' : `${rows.length} shown` }}
          </template>
          <span v-else-if="unsummed" role="alert">{{ unsummed.message }}</span>
          <template v-else>being counted …</template>
        </span>
        <span class="acts">
          <label for="list-group" class="visually-hidden">Group</label>
          <PickField
            id="list-group"
            :model-value="asked.group"
            :options="groups"
            @update:model-value="(group: string) => change({ group })"
          />
          <BButton size="sm" variant="outline-secondary" :aria-expanded="panel === 'columns'" @click="columnsOpen"
            >Columns {{ shown.length }} of {{ page.columns.length }}</BButton
          >
          <BButton size="sm" variant="outline-secondary" @click="panel = 'keep'">Keep</BButton>
          <BButton v-if="may('mailList')" size="sm" variant="outline-secondary" @click="panel = 'mail'">Mail…</BButton>
          <span class="taken">
            <a id="list-take" :href="fileOf(list, asked, 'csv')" download>CSV</a>
            <a :href="fileOf(list, asked, 'xlsx')" download>XLSX</a>
            <a :href="fileOf(list, asked, 'pdf')" download>PDF, to print</a>
          </span>
        </span>
      </footer>
    </section>
    <RowBeside v-if="beside" :kind="about.kind" :number="about.number" />
  </main>
</template>
