<template>
  <nav class="besides" aria-label="Look up">
    <RouterLink to="/lookup/journal" active-class="on">Journal</RouterLink>
    <RouterLink to="/lookup/invoices" active-class="on">All invoices</RouterLink>
  </nav>
</template>
