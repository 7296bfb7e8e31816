<script setup lang="ts">
// The e-invoice as it came: what the server reads in the kept file, laid out as a page.
import { computed } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { api, unwrap } from '@/api/client'
import { price, show, showDay } from './numbers'

const props = defineProps<{ invoice: number; lit: number[] }>()
const { data: page, error } = useQuery({
  queryKey: ['invoice', props.invoice, 'page'],
  queryFn: () => unwrap(api.GET('/api/invoices/{number}/page', { params: { path: { number: props.invoice } } })),
  staleTime: Infinity, // a file that was taken in stays as it is
})
const credit = computed(() => page.value?.kind === 'credit_note')
</script>

<template>
  <section aria-label="The invoice's paper">
    <p v-if="error" class="text-danger">{{ error.message }}</p>
    <div v-else-if="page" class="page">
      <h3>{{ page.supplier }}</h3>
      <div>
        <template v-if="page.taxId">{{ page.taxId }}<br /></template>{{ credit ? 'Credit note' : 'Invoice' }}
        <b class="mono">{{ page.number }}</b> · {{ showDay(page.date) }} {{ page.date.slice(0, 4) }}<br />
        Your order {{ page.order || '—'
        }}<template v-if="page.credited"
          ><br />Credits our invoice <span class="mono">{{ page.credited }}</span></template
        >
      </div>
      <table>
        <tbody>
          <tr v-for="(l, i) in page.lines" :key="i" :class="{ lit: l.no > 0 && lit.includes(l.no) }">
            <td v-if="l.quantity">{{ show(l.quantity) }} × {{ l.name }} @ {{ price(l.price ?? '') }}</td>
            <td v-else>{{ l.name }}</td>
            <td>{{ show(l.net) }}</td>
          </tr>
          <tr>
            <td>VAT</td>
            <td>{{ show(page.tax) }}</td>
          </tr>
          <tr v-if="Number(page.prepaid)">
            <td>Paid before</td>
            <td>−{{ show(page.prepaid) }}</td>
          </tr>
          <tr class="total">
            <td>{{ credit ? 'To your credit' : 'To pay' }}, {{ page.currency }}</td>
            <td>{{ show(page.total) }}</td>
          </tr>
        </tbody>
      </table>
      <p class="mt-3 mb-0">
        <template v-if="page.due">Due {{ showDay(page.due) }}<br /></template
        ><template v-if="!credit"
          >Pay to <span class="mono text-break">{{ page.iban || '—' }}</span></template
        ><template v-if="page.reference"
          ><br />Reference <span class="mono text-break">{{ page.reference }}</span></template
        ><template v-if="page.note"><br />{{ page.note }}</template>
      </p>
    </div>
    <p class="mt-2 mb-0">
      <a :href="`/api/invoices/${invoice}/paper`" download>Save the file as it came</a>
    </p>
  </section>
</template>
