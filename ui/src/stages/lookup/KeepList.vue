<script setup lang="ts">
// Keeps a list, as it is shown now, under a name; or one that is kept no longer.
import { computed, ref } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { api, unwrap } from '@/api/client'
import { listsQuery } from '@/api/queries'
import EntryField from '@/parts/EntryField.vue'
import PickField from '@/parts/PickField.vue'
import SmallForm from '@/parts/SmallForm.vue'
import TextField from '@/parts/TextField.vue'
import TickBox from '@/parts/TickBox.vue'
import { useJob } from '@/parts/job'
import { placeOf } from '@/parts/places'
import { may, person } from '@/parts/session'
import { forms, type Asked } from './show'

const props = defineProps<{ list: string; asked: Asked; title: string }>()
const emit = defineEmits<{ close: [] }>()
const { data } = useQuery(listsQuery)
const name = ref('')
const forAll = ref(false)
const weekly = ref({ to: '', as: 'pdf', every: 'monday', each: false })
const rhythms = [
  { value: 'monday', text: 'every Monday' },
  { value: 'day', text: 'every working day, where there is something on it' },
]
const { send, busy, at } = useJob({ within: '.ask', says: ['name', 'weeklyTo'] })
/** The one of that name that this person may change. */
const there = computed(() =>
  data.value?.kept.find((k) => k.mine && k.name.toLowerCase() === name.value.trim().toLowerCase()),
)
const keep = () =>
  send(
    () =>
      unwrap(
        api.POST('/api/kept-lists', {
          params: {},
          body: {
            number: there.value?.number ?? 0,
            name: name.value,
            list: props.list,
            asked: props.asked,
            forAll: forAll.value,
            weeklyTo: weekly.value.each ? 'each' : weekly.value.to,
            weeklyAs: weekly.value.as,
            daily: weekly.value.every === 'day',
          },
        }),
      ),
    {
      done: (k) => `“${k.name}” is kept${k.forAll ? ' for all' : ''}; it stands on the left.`,
      at: (k) => placeOf.list(k.list, k.asked),
      after: () => emit('close'),
    },
  )
const end = (number: number) =>
  send(() => unwrap(api.POST('/api/kept-lists/{number}/end', { params: { path: { number } } })), {
    done: (k) => `“${k.name}” is kept no longer.`,
    after: () => emit('close'),
  })
/** Whether the list says whose its rows are, so that each colleague can be mailed theirs. */
const theirs = computed(
  () =>
    may('mailList') &&
    (person.value?.roles.some((r) => r === 'approver' || r === 'administrator') ?? false) &&
    (props.asked.show ?? '').split(';').includes('mine'),
)
const own = computed(() => data.value?.kept.filter((k) => k.mine) ?? [])
</script>

<template>
  <SmallForm
    class="mx-3"
    :action="there ? 'Keep it anew' : 'Keep it'"
    label="Keep the list"
    :disabled="busy"
    @done="keep"
    @cancel="emit('close')"
  >
    <label for="keep-name">Keep “{{ title }}”, as it is shown now, as</label>
    <TextField
      id="keep-name"
      v-model="name"
      maxlength="60"
      autocomplete="off"
      :state="at('name') ? false : undefined"
    />
    <p v-if="at('name')" class="text-danger mb-1">{{ at('name') }}</p>
    <p v-if="there" class="muted mb-1">You keep one of that name; it will show what is shown now.</p>
    <TickBox v-model="forAll" class="my-2">For all, not only for me</TickBox>
    <div v-if="may('mailList')" class="entry mt-2">
      <EntryField v-if="!weekly.each" id="keep-to" v-model="weekly.to" label="Mail it to" :error="at('weeklyTo')" />
      <div>
        <label for="keep-every">When</label>
        <PickField id="keep-every" v-model="weekly.every" :options="rhythms" />
      </div>
      <div>
        <label for="keep-as">As</label>
        <PickField id="keep-as" v-model="weekly.as" :options="forms" />
      </div>
    </div>
    <template v-if="theirs">
      <TickBox v-model="weekly.each" class="mt-2">Mail each colleague what is theirs of it</TickBox>
      <p v-if="weekly.each && at('weeklyTo')" class="text-danger mb-1">{{ at('weeklyTo') }}</p>
    </template>
    <p v-if="own.length" class="mb-1 mt-2">
      Kept:
      <span v-for="k in own" :key="k.number" class="me-3"
        >{{ k.name
        }}<span v-if="k.weeklyTo" class="muted"
          >, every {{ k.daily ? 'working day' : 'Monday' }} to
          {{ k.weeklyTo === 'each' ? 'each colleague, with what is theirs' : k.weeklyTo }}</span
        >
        <button type="button" class="linkish" :disabled="busy" @click="end(k.number)">
          keep no longer<span class="visually-hidden"> {{ k.name }}</span>
        </button></span
      >
    </p>
  </SmallForm>
</template>
