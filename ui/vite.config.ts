import { fileURLToPath, URL } from 'node:url'
import { defineConfig } from 'vitest/config'
import vue from '@vitejs/plugin-vue'
import Components from 'unplugin-vue-components/vite'
import { BootstrapVueNextResolver } from 'bootstrap-vue-next/resolvers'

export default defineConfig({
  plugins: [vue(), Components({ dts: 'src/components.d.ts', dirs: [], resolvers: [BootstrapVueNextResolver()] })],
  resolve: { alias: { '@': fileURLToPath(new URL('./src', import.meta.url)) } },
  css: { preprocessorOptions: { scss: { quietDeps: true } } },
  server: { port: 5173, strictPort: true, proxy: { '/api': { target: 'http://localhost:8080', changeOrigin: false } } },
  test: { include: ['test/**/*.test.ts'], environment: 'node' },
  build: { target: 'es2022', sourcemap: false },
})
