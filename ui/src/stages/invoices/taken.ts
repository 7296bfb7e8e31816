// What became of the files that were given last: it stays while one looks at what they are.
import { ref } from 'vue'
import type { ImportResult } from '@/api/client'

export const progress = ref<{ done: number; all: number }>()
export const results = ref<ImportResult[]>([])
