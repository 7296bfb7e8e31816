<script setup lang="ts">
// Help for what is being done, beside it.
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import HelpText from './HelpText.vue'
import { help } from './texts'

const emit = defineEmits<{ close: [] }>()
const route = useRoute()
const page = computed(() => help[String(route.meta['help'])] ?? help[String(route.meta['stage'])])
</script>

<template>
  <aside class="help" aria-label="Help" tabindex="0">
    <div class="d-flex justify-content-between align-items-baseline">
      <h2>{{ page?.title ?? 'Help' }}</h2>
      <button type="button" class="linkish" @click="emit('close')">Close</button>
    </div>
    <template v-if="page">
      <p>{{ page.lead }}</p>
      <section v-for="part in page.parts" :key="part.title">
        <h3>{{ part.title }}</h3>
        <p v-if="part.text"><HelpText :text="part.text" /></p>
        <ul v-if="part.steps">
          <li v-for="step in part.steps" :key="step"><HelpText :text="step" /></li>
        </ul>
      </section>
    </template>
    <p v-else>Choose a stage above; its help opens here.</p>
  </aside>
</template>
