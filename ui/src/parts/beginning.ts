import { computed } from 'vue'
import { useQuery } from '@tanstack/vue-query'

/**
 * What a form begins with: a query whose data is there once it was read after the form opened, never what another page
 * showed before. A form keeps what it began with, and its reader would be told that somebody changed it meanwhile.
 */
export const useBeginning = ((...of: Parameters<typeof useQuery>) => {
  const query = useQuery(...of)
  return { ...query, data: computed(() => (query.isFetchedAfterMount.value ? query.data.value : undefined)) }
}) as typeof useQuery
