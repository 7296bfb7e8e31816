<script setup lang="ts">
// The e-invoice as it came, read from the kept file itself and laid out as a page.
import { computed, ref, watch } from 'vue'
import { price, show, showDay } from './numbers'

const props = defineProps<{ invoice: number; lit: number[] }>()
const xml = ref<Document>()
const trouble = ref('')

watch(
  () => props.invoice,
  async (number) => {
    xml.value = undefined
    trouble.value = ''
    try {
      const answer = await fetch(`/api/invoices/${number}/paper`)
      if (!answer.ok) throw new Error()
      xml.value = new DOMParser().parseFromString(await answer.text(), 'application/xml')
    } catch {
      trouble.value = 'The file could not be loaded.'
    }
  },
  { immediate: true },
)

function all(node: Document | Element, ...path: string[]): Element[] {
  let nodes: Element[] = node instanceof Document ? [node.documentElement] : [node]
  for (const name of path) nodes = nodes.flatMap((n) => [...n.children].filter((c) => c.localName === name))
  return nodes
}
const text = (node: Document | Element, ...path: string[]) => all(node, ...path)[0]?.textContent?.trim() ?? ''

const page = computed(() => {
  const d = xml.value
  if (!d) return undefined
  const party = all(d, 'AccountingSupplierParty', 'Party')[0]
  return {
    name: party ? text(party, 'PartyLegalEntity', 'RegistrationName') || text(party, 'PartyName', 'Name') : '',
    street: party ? text(party, 'PostalAddress', 'StreetName') : '',
    number: text(d, 'ID'),
    date: text(d, 'IssueDate'),
    order: text(d, 'OrderReference', 'ID'),
    currency: text(d, 'DocumentCurrencyCode'),
    lines: all(d, 'InvoiceLine').map((l) => ({
      quantity: text(l, 'InvoicedQuantity'),
      name: text(l, 'Item', 'Name'),
      price: text(l, 'Price', 'PriceAmount'),
      sum: text(l, 'LineExtensionAmount'),
    })),
    charges: all(d, 'AllowanceCharge').map((c) => ({
      name: text(c, 'AllowanceChargeReason') || 'Charge',
      sum: (text(c, 'ChargeIndicator') === 'true' ? '' : '-') + text(c, 'Amount'),
    })),
    tax: text(d, 'TaxTotal', 'TaxAmount'),
    total: text(d, 'LegalMonetaryTotal', 'PayableAmount'),
    account: text(d, 'PaymentMeans', 'PayeeFinancialAccount', 'ID'),
  }
})
</script>

<template>
  <section aria-label="The invoice's paper">
    <p v-if="trouble" class="text-danger">{{ trouble }}</p>
    <div v-else-if="page" class="page">
      <h3>{{ page.name }}</h3>
      <div>
        {{ page.street }}<br />Invoice <b class="mono">{{ page.number }}</b> · {{ showDay(page.date) }} {{ page.date.slice(0, 4) }}<br />
        Your order {{ page.order || '—' }}
      </div>
      <table>
        <tbody>
          <tr v-for="(l, i) in page.lines" :key="i" :class="{ lit: lit.includes(i + 1) }">
            <td>{{ show(l.quantity) }} × {{ l.name }} @ {{ price(l.price) }}</td>
            <td>{{ show(l.sum) }}</td>
          </tr>
          <tr v-for="(c, i) in page.charges" :key="`c${i}`">
            <td>{{ c.name }}</td>
            <td>{{ show(c.sum) }}</td>
          </tr>
          <tr>
            <td>VAT</td>
            <td>{{ show(page.tax) }}</td>
          </tr>
          <tr class="total">
            <td>To pay, {{ page.currency }}</td>
            <td>{{ show(page.total) }}</td>
          </tr>
        </tbody>
      </table>
      <p class="mt-3 mb-0">
        Pay to <span class="mono text-break">{{ page.account || '—' }}</span>
      </p>
    </div>
    <p class="mt-2 mb-0">
      <a :href="`/api/invoices/${invoice}/paper`" download>Save the file as it came</a>
    </p>
  </section>
</template>
