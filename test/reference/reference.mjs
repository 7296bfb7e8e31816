// Answers one question a call, from libraries that the project did not write; question and answer are JSON.
import { createRequire } from 'node:module'
const require = createRequire(import.meta.url)
const [, , what] = process.argv
const input = JSON.parse(await new Response(process.stdin).text())

const answers = {
  // e-invoices in: models of EN 16931, written as UBL or CII by @e-invoice-eu/core.
  async einvoices() {
    const { InvoiceService } = require('@e-invoice-eu/core')
    const service = new InvoiceService(console)
    return Promise.all(input.models.map((model) => service.generate(model, { format: input.format, lang: 'en' })))
  },
  // The business rules of EN 16931 that CII documents break, as factur-x-kit checks them; what it cannot even read counts as broken.
  async rules() {
    const { FacturX } = require('factur-x-kit')
    return Promise.all(
      input.map(async (xml) => {
        try {
          const { valid, errors } = (await FacturX.fromXML(xml)).validate()
          return valid ? [] : errors.map((e) => e.message ?? String(e))
        } catch (e) {
          return [`not read: ${e.message}`]
        }
      }),
    )
  },
  // CII documents as hybrid PDFs that factur-x-kit makes, in base64.
  async hybrids() {
    const { FacturX } = require('factur-x-kit')
    return Promise.all(
      input.map(async (xml) => Buffer.from(await (await FacturX.fromXML(xml)).getPDF()).toString('base64')),
    )
  },
  // The code lists of EN 16931, as its library has them.
  lists() {
    const { codeLists } = require('@e-invoice-eu/core').invoiceSchema.$defs
    return Object.fromEntries(Object.entries(codeLists).map(([name, list]) => [name, list.enum]))
  },
  // What the model of EN 16931 has against documents in UBL: each is read as the library's schema names its terms, and a credit
  // note as the invoice of the model that it is (BT-3 tells them apart).
  model() {
    const { invoiceSchema } = require('@e-invoice-eu/core')
    const { convert } = require('xmlbuilder2')
    const Ajv = require('ajv/dist/2019').default
    const check = new Ajv({ strict: false, allErrors: true }).compile(invoiceSchema)
    const resolve = (schema) => {
      const of = schema?.$ref
        ? schema.$ref
            .split('/')
            .slice(1)
            .reduce((at, key) => at[key], invoiceSchema)
        : schema
      return of ?? {}
    }
    const termed = (name) =>
      name.replace('CreditNoteTypeCode', 'InvoiceTypeCode').replace('CreditNoteLine', 'InvoiceLine').replace('CreditedQuantity', 'InvoicedQuantity')
    const read = (node, schema) => {
      const { properties = {} } = resolve(schema)
      const out = {}
      for (const [key, value] of Object.entries(node)) {
        if (key.startsWith('@') || key === '#') continue
        const name = termed(key)
        const its = resolve(properties[name])
        const all = (Array.isArray(value) ? value : [value]).map((v) => {
          if (typeof v !== 'object') return v
          for (const [attribute, text] of Object.entries(v)) {
            if (attribute.startsWith('@') && !attribute.startsWith('@xmlns')) out[name + attribute] = text
          }
          return '#' in v ? v['#'] : read(v, its.type === 'array' ? its.items : its)
        })
        out[name] = its.type === 'array' ? all : all[0]
      }
      return out
    }
    return input.map((xml) => {
      const root = Object.values(convert(xml, { format: 'object' }))[0]
      const model = { 'ubl:Invoice': read(root, invoiceSchema.properties['ubl:Invoice']) }
      check(model)
      return (check.errors ?? []).map((e) => `${e.instancePath} ${e.message} ${JSON.stringify(e.params)}`)
    })
  },
  currencies: () => Object.fromEntries(require('currency-codes').data.map((c) => [c.code, c.digits])),
  iban: () => input.map((i) => require('ibantools').isValidIBAN(i)),
  split() {
    require('largest-remainder-round')
    return input.map(({ amount, weights }) => weights.spread(amount))
  },
  due() {
    const { addDays, endOfMonth, addMonths, setDate, getDaysInMonth, format } = require('date-fns')
    return input.map(({ base, net, end, day }) => {
      let d = addDays(new Date(`${base}T12:00:00`), net)
      if (end) d = endOfMonth(d)
      if (day > 0) {
        const next = addMonths(setDate(d, 1), 1)
        d = setDate(next, Math.min(day, getDaysInMonth(next)))
      }
      return format(d, 'yyyy-MM-dd')
    })
  },
  // pain.001, a second writer: the same payments written by sepa.js.
  sepa() {
    const SEPA = require('sepa')
    const doc = new SEPA.Document('pain.001.001.08')
    doc.grpHdr.id = input.message
    doc.grpHdr.created = new Date(input.created)
    doc.grpHdr.initiatorName = input.debtor
    const info = doc.createPaymentInfo()
    info.requestedExecutionDate = new Date(input.payOn)
    info.debtorIBAN = input.iban
    info.debtorBIC = input.bic
    info.debtorName = input.debtor
    info.debtorId = 'DE98ZZZ09999999999'
    doc.addPaymentInfo(info)
    for (const t of input.transfers) {
      const tx = info.createTransaction()
      tx.creditorName = t.creditor
      tx.creditorIBAN = t.iban
      tx.creditorBIC = t.bic
      tx.amount = Number(t.amount)
      tx.end2endId = t.endToEnd
      tx.remittanceInfo = t.remittance
      info.addTransaction(tx)
    }
    return doc.toString()
  },
}
process.stdout.write(JSON.stringify(await answers[what]()))
