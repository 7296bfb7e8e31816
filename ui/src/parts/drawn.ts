import { onBeforeUnmount, onMounted, watch, type Ref, type WatchSource } from 'vue'
import { Chart, type ChartConfiguration, type ChartType } from 'chart.js'

/** Draws on a canvas for as long as it is there, and again when what is drawn changes. */
export function useDrawn<K extends ChartType, D>(
  canvas: Ref<HTMLCanvasElement | null | undefined>,
  config: () => ChartConfiguration<K, D>,
  source: WatchSource,
): void {
  let chart: Chart<K, D> | undefined
  onMounted(() => {
    if (!canvas.value) return
    Chart.defaults.font.family = getComputedStyle(canvas.value).fontFamily
    chart = new Chart(canvas.value, config())
  })
  watch(source, () => {
    if (!chart) return
    chart.data = config().data
    chart.update()
  })
  onBeforeUnmount(() => chart?.destroy())
}
