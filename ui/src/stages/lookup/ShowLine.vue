<script setup lang="ts">
// What a list shows, in words: each is a tag that can be taken out; the next one is typed with completion, or chosen below.
import { ref, watch } from 'vue'
import type { ListPage } from '@/api/client'
import { complete, tagText, without, withWord, type Completion } from './show'

const props = defineProps<{ page: ListPage }>()
const emit = defineEmits<{ show: [words: string] }>()
const typed = ref('')
const offered = ref<Completion[]>([])
const at = ref(0)
const trouble = ref('')
const field = ref<HTMLInputElement>()

watch(typed, async (text) => {
  trouble.value = ''
  const found = await complete(props.page.words, text)
  if (text !== typed.value) return // a later one is on its way
  offered.value = found
  at.value = 0
})
function take(c: Completion | undefined) {
  if (!c) {
    if (typed.value.trim()) trouble.value = `“${typed.value.trim()}” is no word of this list. The words stand below.`
    return
  }
  if (c.open) {
    typed.value = c.text.replace('…', '')
    field.value?.focus()
    return
  }
  emit('show', withWord(props.page, c.word, c.value))
  typed.value = ''
  field.value?.focus()
}
async function enter() {
  take((await complete(props.page.words, typed.value))[at.value])
}
function back() {
  if (typed.value === '' && props.page.tags.length) emit('show', without(props.page, props.page.tags.length - 1))
}
const choose = (w: ListPage['words'][number]) =>
  take({ word: w.key, value: '', text: w.takes === 'nothing' ? w.text : `${w.text} …`, open: w.takes !== 'nothing' })
defineExpose({ focus: () => field.value?.focus() })
</script>

<template>
  <div class="showline">
    <label for="show-words">Show</label>
    <div class="show">
      <span v-for="(t, i) in page.tags" :key="t.word + t.value" class="tag"
        >{{ tagText(page, t) }}
        <button type="button" :aria-label="`take out: ${tagText(page, t)}`" @click="emit('show', without(page, i))">
          ×
        </button></span
      >
      <input
        id="show-words"
        ref="field"
        v-model="typed"
        autocomplete="off"
        role="combobox"
        aria-controls="show-offered"
        aria-autocomplete="list"
        :aria-expanded="offered.length > 0"
        :aria-activedescendant="offered.length ? `show-offer-${at}` : undefined"
        :aria-invalid="trouble ? true : undefined"
        aria-describedby="show-trouble"
        :placeholder="page.tags.length ? '' : 'all; type a word, a supplier, over 1,000 …'"
        @keydown.enter.exact.prevent="enter"
        @keydown.delete="typed === '' && $event.key === 'Backspace' ? back() : undefined"
        @keydown.down="
          offered.length ? ((at = Math.min(offered.length - 1, at + 1)), $event.preventDefault()) : undefined
        "
        @keydown.up="offered.length ? ((at = Math.max(0, at - 1)), $event.preventDefault()) : undefined"
      />
    </div>
    <div class="words">
      <span v-if="trouble" id="show-trouble" class="outside-text" role="alert">{{ trouble }}</span>
      <div v-if="offered.length" id="show-offered" role="listbox" aria-label="Completions">
        <button
          v-for="(c, i) in offered"
          :id="`show-offer-${i}`"
          :key="c.word + c.value"
          type="button"
          role="option"
          :aria-selected="i === at"
          :class="{ first: i === at }"
          tabindex="-1"
          @click="take(c)"
        >
          {{ c.text }}
        </button>
        <span class="muted">Enter takes the marked one.</span>
      </div>
      <template v-else>
        <button v-for="w in page.words" :key="w.key" type="button" tabindex="-1" @click="choose(w)">
          {{ w.takes === 'nothing' ? w.text : `${w.text} …` }}
        </button>
      </template>
    </div>
  </div>
</template>
