<script setup lang="ts">
// The limits of one level. Blank is not set, so that the next level decides; zero allows nothing.
import { useQuery } from '@tanstack/vue-query'
import { type Limit } from '@/api/client'
import { companyQuery } from '@/api/queries'
import NumberField from '@/parts/NumberField.vue'
import { show } from '@/parts/numbers'
import { placeOf, sorts, type TypedLimits } from './limits'

const props = defineProps<{
  id: string
  currency: string
  /** The names of the kinds that are shown. */
  kinds?: string[]
  /** Shows as a hint what the company sets where nothing is set here. */
  company?: boolean
  /** What applies where nothing is set here, in words. */
  says?: (kind: string, side: string) => string | undefined
  problem: (place: number) => string | undefined
}>()
const limits = defineModel<TypedLimits>({ required: true })
const { data: frame } = useQuery({ ...companyQuery, enabled: props.company === true })
const above = (kind: string, side: string): Limit | undefined =>
  props.company ? frame.value?.company.limits.find((l) => l.kind === kind && l.side === side) : undefined
const shown = sorts.filter((s) => !props.kinds || props.kinds.includes(s.kind))
const sides = ['over', 'under'] as const
function problemAt(kind: string, side: string) {
  const place = placeOf(limits.value, kind, side)
  return place < 0 ? undefined : props.problem(place)
}
</script>

<template>
  <table class="grid mb-2" style="max-width: 760px">
    <thead>
      <tr>
        <th>A difference passes up to</th>
        <th class="num">Over, %</th>
        <th class="num">Over, absolute</th>
        <th class="num">Under, %</th>
        <th class="num">Under, absolute</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="s in shown" :key="s.kind">
        <td>
          {{ s.name }}
          <template v-if="says">
            <div v-for="side in s.sides" :key="side" class="small muted">{{ side }}: {{ says(s.kind, side) }}</div>
          </template>
          <div v-else class="small muted">
            {{ s.of ? `% of the ${s.of}` : 'an amount' }}, absolute in {{ s.quantity ? 'the unit' : currency }}
          </div>
        </td>
        <template v-for="side in sides" :key="side">
          <template v-if="s.sides.includes(side) && limits[`${s.kind} ${side}`]">
            <td class="num">
              <NumberField
                v-if="s.of"
                :id="`${id}-${s.kind}-${side}-percent`"
                v-model="limits[`${s.kind} ${side}`]!.percent"
                :label="`${s.name}, ${side}, per cent`"
                :placeholder="show(above(s.kind, side)?.percent)"
                :error="problemAt(s.kind, side)"
              />
            </td>
            <td class="num">
              <NumberField
                :id="`${id}-${s.kind}-${side}-absolute`"
                v-model="limits[`${s.kind} ${side}`]!.absolute"
                :label="`${s.name}, ${side}, absolute`"
                :placeholder="show(above(s.kind, side)?.absolute)"
                :error="s.of ? undefined : problemAt(s.kind, side)"
              />
            </td>
          </template>
          <template v-else>
            <td></td>
            <td></td>
          </template>
        </template>
      </tr>
    </tbody>
  </table>
</template>
