import { createRouter, createWebHistory, type RouteLocationNormalized } from 'vue-router'

// Each stage is its pile and, beside it, what its address names.
const text = (of: unknown) => (typeof of === 'string' ? of : '')
const number = ':number(\\d+)'
const numbered = (to: RouteLocationNormalized) => ({ number: Number(to.params['number']) || 0 })
const coded = (to: RouteLocationNormalized) => ({ code: String(to.params['code'] ?? '') })
const orderForm = () => import('./stages/orders/OrderForm.vue')
const invoiceForm = () => import('./stages/invoices/InvoiceForm.vue')

export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: '/', component: () => import('./stages/FirstStage.vue'), meta: { stage: '' } },
    {
      path: '/orders',
      component: () => import('./stages/orders/OrdersStage.vue'),
      meta: { stage: 'orders' },
      children: [
        { path: number + '?', component: () => import('./stages/orders/OrderDesk.vue'), props: numbered },
        {
          path: 'new',
          component: orderForm,
          props: (to) => ({ supplier: text(to.query['supplier']) }),
          meta: { help: 'orders entering' },
        },
        {
          path: `${number}/change`,
          component: orderForm,
          props: (to) => ({
            change: numbered(to).number,
            plans: to.query['kind']
              ? { kind: text(to.query['kind']), amount: text(to.query['amount']), taxRate: text(to.query['tax']) }
              : undefined,
          }),
          meta: { help: 'orders entering' },
        },
        {
          path: `drafts/${number}`,
          component: orderForm,
          props: (to) => ({ draftNumber: numbered(to).number }),
          meta: { help: 'orders entering' },
        },
        {
          path: 'closing',
          component: () => import('./stages/orders/ClosingView.vue'),
          meta: { help: 'orders closing' },
        },
        {
          path: 'reminders',
          component: () => import('./stages/orders/RemindersView.vue'),
          meta: { help: 'orders reminders' },
        },
        {
          path: 'planned',
          component: () => import('./stages/orders/PlannedView.vue'),
          meta: { help: 'orders planned' },
        },
      ],
    },
    {
      path: '/receiving',
      component: () => import('./stages/receiving/ReceivingStage.vue'),
      meta: { stage: 'receiving' },
      children: [
        { path: '', component: () => import('./stages/receiving/ReceivingHome.vue') },
        {
          path: number,
          component: () => import('./stages/receiving/DeliverySheet.vue'),
          props: (to) => ({
            ...numbered(to),
            fromNotice: Number(to.query['notice']) || undefined,
            fromArrival: Number(to.query['arrival']) || undefined,
            fromNote: text(to.query['note']),
          }),
        },
        {
          path: `deliveries/${number}`,
          component: () => import('./stages/receiving/BookedDelivery.vue'),
          props: numbered,
        },
        {
          path: `notices/${number}`,
          component: () => import('./stages/receiving/NoticeSheet.vue'),
          props: numbered,
        },
        { path: `${number}/notice`, component: () => import('./stages/receiving/NoticeForm.vue'), props: numbered },
      ],
    },
    {
      path: '/invoices',
      component: () => import('./stages/invoices/InvoicesStage.vue'),
      meta: { stage: 'invoices' },
      children: [
        { path: '', component: () => import('./stages/invoices/InvoicesHome.vue') },
        { path: number, component: () => import('./stages/invoices/InvoiceSheet.vue'), props: numbered },
        { path: 'self-billing', component: () => import('./stages/invoices/SelfBillingRun.vue') },
        {
          path: `batch/${number}?`,
          component: () => import('./stages/invoices/BatchSheet.vue'),
          props: (to) => ({ number: numbered(to).number || 0 }),
          meta: { help: 'invoices batch' },
        },
        { path: `mail/${number}`, component: () => import('./stages/invoices/MailSheet.vue'), props: numbered },
        {
          path: 'key',
          component: invoiceForm,
          props: (to) => ({
            order: Number(to.query['order']) || 0,
            corrects: 0,
            mail: { number: Number(to.query['mail']) || 0, part: Number(to.query['part']) || 0 },
            hand: { note: text(to.query['note']), supplier: text(to.query['supplier']), item: text(to.query['item']) },
            ahead: Number(to.query['ahead']) || 0,
          }),
        },
        {
          path: 'credit',
          component: invoiceForm,
          props: (to) => ({
            order: 0,
            corrects: 0,
            credits: { invoice: Number(to.query['invoice']) || 0, returned: Number(to.query['return']) || 0 },
          }),
          meta: { help: 'invoices crediting' },
        },
        {
          path: `${number}/correct`,
          component: invoiceForm,
          props: (to) => ({ order: 0, corrects: numbered(to).number }),
        },
      ],
    },
    {
      path: '/holds',
      component: () => import('./stages/holds/HoldsStage.vue'),
      meta: { stage: 'holds' },
      children: [
        { path: '', component: () => import('./stages/holds/HoldsList.vue') },
        { path: number, component: () => import('./stages/invoices/InvoiceSheet.vue'), props: numbered },
      ],
    },
    {
      path: '/payments',
      component: () => import('./stages/payments/PaymentsStage.vue'),
      meta: { stage: 'payments' },
      children: [
        { path: '', component: () => import('./stages/payments/ReleaseSheet.vue') },
        { path: 'ahead', component: () => import('./stages/payments/AheadList.vue') },
        { path: 'cash', component: () => import('./stages/payments/CashSheet.vue') },
        { path: 'bank', component: () => import('./stages/payments/BankSheet.vue') },
        { path: `bank/${number}`, component: () => import('./stages/payments/StatementSheet.vue'), props: numbered },
        { path: 'proposed-run', component: () => import('./stages/payments/ProposedRun.vue') },
        { path: `runs/${number}`, component: () => import('./stages/payments/RunSheet.vue'), props: numbered },
      ],
    },
    {
      path: `/lookup/journal/${number}?`,
      component: () => import('./stages/lookup/JournalView.vue'),
      meta: { stage: 'lookup' },
    },
    { path: '/lookup/record', component: () => import('./stages/lookup/RecordView.vue'), meta: { stage: 'lookup' } },
    { path: '/lookup/month-end', component: () => import('./stages/lookup/MonthEnd.vue'), meta: { stage: 'lookup' } },
    { path: '/lookup/limits', component: () => import('./stages/lookup/TrialsView.vue'), meta: { stage: 'lookup' } },
    {
      path: '/lookup/limits/try',
      component: () => import('./stages/lookup/TrialSheet.vue'),
      meta: { stage: 'lookup' },
    },
    {
      path: '/lookup/statements',
      component: () => import('./stages/lookup/StatementsView.vue'),
      meta: { stage: 'lookup' },
    },
    {
      path: '/lookup/statements/new',
      component: () => import('./stages/lookup/StatementNew.vue'),
      meta: { stage: 'lookup' },
    },
    {
      path: '/lookup/statements/:number',
      component: () => import('./stages/lookup/StatementPage.vue'),
      meta: { stage: 'lookup' },
    },
    { path: '/lookup/ranking', component: () => import('./stages/lookup/RankingView.vue'), meta: { stage: 'lookup' } },
    {
      path: `/lookup/alike/${number}`,
      component: () => import('./stages/lookup/AlikeView.vue'),
      props: numbered,
      meta: { stage: 'lookup' },
    },
    { path: '/lookup/turns', component: () => import('./stages/lookup/TurnsView.vue'), meta: { stage: 'lookup' } },
    { path: '/lookup/day', component: () => import('./stages/lookup/DayView.vue'), meta: { stage: 'lookup' } },
    { path: '/lookup/budgets', component: () => import('./stages/lookup/BudgetsView.vue'), meta: { stage: 'lookup' } },
    { path: '/lookup', redirect: '/lookup/lists/orders' },
    { path: '/lookup/invoices', redirect: '/lookup/lists/invoices' },
    { path: '/lookup/lists/:list', component: () => import('./stages/lookup/ShowView.vue'), meta: { stage: 'lookup' } },
    {
      path: '/setup/suppliers',
      component: () => import('./stages/setup/SuppliersView.vue'),
      meta: { stage: 'setup' },
      children: [
        { path: ':code?', component: () => import('./stages/setup/SupplierSheet.vue'), props: coded },
        { path: ':code/edit', component: () => import('./stages/setup/SupplierEntry.vue'), props: coded },
        { path: '/setup/new-supplier', component: () => import('./stages/setup/SupplierEntry.vue'), props: coded },
      ],
    },
    {
      path: '/setup/items',
      component: () => import('./stages/setup/ItemsView.vue'),
      meta: { stage: 'setup' },
      children: [
        { path: ':code?', component: () => import('./stages/setup/ItemPage.vue'), props: coded },
        { path: ':code/edit', component: () => import('./stages/setup/ItemEntry.vue'), props: coded },
        { path: '/setup/new-item', component: () => import('./stages/setup/ItemEntry.vue'), props: coded },
      ],
    },
    { path: '/setup/company', component: () => import('./stages/setup/CompanyView.vue'), meta: { stage: 'setup' } },
    { path: '/setup/books', component: () => import('./stages/setup/BooksView.vue'), meta: { stage: 'setup' } },
    { path: '/setup/tables', component: () => import('./stages/setup/TablesView.vue'), meta: { stage: 'setup' } },
    { path: '/setup/account', component: () => import('./stages/setup/AccountView.vue'), meta: { stage: 'setup' } },
    { path: '/setup/ways', component: () => import('./stages/setup/WaysView.vue'), meta: { stage: 'setup' } },
    { path: '/setup/people', component: () => import('./stages/setup/PeopleView.vue'), meta: { stage: 'setup' } },
    { path: '/:rest(.*)*', component: () => import('./stages/lookup/NothingHere.vue'), meta: { stage: '' } },
  ],
})
