<template>
  <main class="desk alone">
    <div class="sheet">
      <div class="nothing">
        <h1>There is no page here</h1>
        <p>Find what you look for by its number or name with <kbd>/</kbd>, or choose a stage above.</p>
      </div>
    </div>
  </main>
</template>
