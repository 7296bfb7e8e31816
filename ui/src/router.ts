import { createRouter, createWebHistory } from 'vue-router'

const number = ':number(\\d+)'

export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: '/', component: () => import('./stages/FirstStage.vue'), meta: { stage: '' } },
    {
      path: `/orders/${number}?`,
      component: () => import('./stages/orders/OrdersStage.vue'),
      meta: { stage: 'orders' },
    },
    {
      path: '/orders/closing',
      component: () => import('./stages/orders/OrdersStage.vue'),
      meta: { stage: 'orders', view: 'closing' },
    },
    {
      path: '/orders/reminders',
      component: () => import('./stages/orders/OrdersStage.vue'),
      meta: { stage: 'orders', view: 'reminders' },
    },
    {
      path: '/orders/planned',
      component: () => import('./stages/orders/OrdersStage.vue'),
      meta: { stage: 'orders', view: 'planned' },
    },
    {
      path: `/orders/${number}/change`,
      component: () => import('./stages/orders/OrdersStage.vue'),
      meta: { stage: 'orders', entering: true },
    },
    {
      path: `/orders/drafts/${number}`,
      component: () => import('./stages/orders/OrdersStage.vue'),
      meta: { stage: 'orders', entering: true, kept: true },
    },
    {
      path: '/orders/new',
      component: () => import('./stages/orders/OrdersStage.vue'),
      meta: { stage: 'orders', entering: true },
    },
    {
      path: `/receiving/${number}?`,
      component: () => import('./stages/receiving/ReceivingStage.vue'),
      meta: { stage: 'receiving' },
    },
    {
      path: `/receiving/deliveries/${number}`,
      component: () => import('./stages/receiving/ReceivingStage.vue'),
      meta: { stage: 'receiving', booked: true },
    },
    {
      path: `/receiving/${number}/notice`,
      component: () => import('./stages/receiving/ReceivingStage.vue'),
      meta: { stage: 'receiving', noticing: true },
    },
    {
      path: `/invoices/${number}?`,
      component: () => import('./stages/invoices/InvoicesStage.vue'),
      meta: { stage: 'invoices' },
    },
    {
      path: '/invoices/key',
      component: () => import('./stages/invoices/InvoicesStage.vue'),
      meta: { stage: 'invoices', keying: true },
    },
    {
      path: `/invoices/${number}/correct`,
      component: () => import('./stages/invoices/InvoicesStage.vue'),
      meta: { stage: 'invoices', keying: true },
    },
    { path: `/holds/${number}?`, component: () => import('./stages/holds/HoldsStage.vue'), meta: { stage: 'holds' } },
    {
      path: '/payments',
      component: () => import('./stages/payments/PaymentsStage.vue'),
      meta: { stage: 'payments', view: 'release' },
    },
    {
      path: '/payments/proposed-run',
      component: () => import('./stages/payments/PaymentsStage.vue'),
      meta: { stage: 'payments', view: 'proposed' },
    },
    {
      path: `/payments/runs/${number}`,
      component: () => import('./stages/payments/PaymentsStage.vue'),
      meta: { stage: 'payments', view: 'run' },
    },
    {
      path: `/lookup/journal/${number}?`,
      component: () => import('./stages/lookup/JournalView.vue'),
      meta: { stage: 'lookup' },
    },
    { path: '/lookup/record', component: () => import('./stages/lookup/RecordView.vue'), meta: { stage: 'lookup' } },
    { path: '/lookup/invoices', component: () => import('./stages/lookup/InvoiceList.vue'), meta: { stage: 'lookup' } },
    {
      path: '/setup/suppliers/:code?',
      component: () => import('./stages/setup/SuppliersView.vue'),
      meta: { stage: 'setup' },
    },
    {
      path: '/setup/suppliers/:code/edit',
      component: () => import('./stages/setup/SuppliersView.vue'),
      meta: { stage: 'setup', editing: true },
    },
    {
      path: '/setup/new-supplier',
      component: () => import('./stages/setup/SuppliersView.vue'),
      meta: { stage: 'setup', editing: true },
    },
    { path: '/setup/items/:code?', component: () => import('./stages/setup/ItemsView.vue'), meta: { stage: 'setup' } },
    {
      path: '/setup/items/:code/edit',
      component: () => import('./stages/setup/ItemsView.vue'),
      meta: { stage: 'setup', editing: true },
    },
    {
      path: '/setup/new-item',
      component: () => import('./stages/setup/ItemsView.vue'),
      meta: { stage: 'setup', editing: true },
    },
    { path: '/setup/company', component: () => import('./stages/setup/CompanyView.vue'), meta: { stage: 'setup' } },
    { path: '/setup/books', component: () => import('./stages/setup/BooksView.vue'), meta: { stage: 'setup' } },
    { path: '/setup/tables', component: () => import('./stages/setup/TablesView.vue'), meta: { stage: 'setup' } },
    { path: '/setup/account', component: () => import('./stages/setup/AccountView.vue'), meta: { stage: 'setup' } },
    { path: '/setup/people', component: () => import('./stages/setup/PeopleView.vue'), meta: { stage: 'setup' } },
    { path: '/:rest(.*)*', component: () => import('./stages/lookup/NothingHere.vue'), meta: { stage: '' } },
  ],
})
