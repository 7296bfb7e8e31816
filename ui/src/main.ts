import { createApp } from 'vue'
import { QueryCache, QueryClient, VueQueryPlugin } from '@tanstack/vue-query'
import App from './App.vue'
import { warn } from './parts/notice'
import { keepPlaces } from './parts/place'
import { router } from './router'
import './style/main.scss'

// What is shown stays when asking again fails; what was never there is said in a sentence. Asking again is the wire's.
// An answer is never changed, only replaced, so nothing inside it needs to be watched.
const queryClient = new QueryClient({
  queryCache: new QueryCache({ onError: (error, query) => query.state.data === undefined && warn(error) }),
  defaultOptions: {
    queries: { staleTime: 0, retry: false, refetchOnWindowFocus: true, networkMode: 'always', shallow: true },
  },
})

keepPlaces(router)
createApp(App).use(router).use(VueQueryPlugin, { queryClient }).mount('#app')
