<script setup lang="ts">
import { onBeforeUnmount, onMounted, ref, watch } from 'vue';
import { Chart, Filler, LinearScale, LineController, LineElement, PointElement, Tooltip } from 'chart.js';
import { CHART_FONT, PLOT_LEFT, PLOT_RIGHT } from './layout';
import { formatGps, type TimeDisplay } from '@longheron/core/time';

Chart.register(LineController, LineElement, PointElement, LinearScale, Filler, Tooltip);

/** Minimum and maximum of one column per bin, against GPS time; zoomed to the brush. */
const props = defineProps<{
  time: number[];
  series: Array<{ name: string; min: Array<number | null>; max: Array<number | null>; colour: string }>;
  unit: string;
  span: [number, number];
  display: TimeDisplay;
  limit?: number;
}>();
const canvas = ref<HTMLCanvasElement | null>(null);
let chart: Chart | undefined;

function data() {
  const datasets = props.series.flatMap((s) => {
    const points = (v: Array<number | null>) => props.time.map((t, i) => ({ x: t, y: v[i] }));
    return [
      {
        label: s.name,
        data: points(s.max),
        borderColor: s.colour,
        backgroundColor: `${s.colour}55`,
        borderWidth: 1.3,
        pointRadius: 0,
        fill: '+1' as const,
      },
      {
        label: `${s.name} (lowest)`,
        data: points(s.min),
        borderColor: s.colour,
        borderWidth: 0.8,
        pointRadius: 0,
        fill: false,
      },
    ];
  });
  if (props.limit !== undefined)
    datasets.push({
      label: 'tolerance',
      data: props.span.map((x) => ({ x, y: props.limit! })),
      borderColor: '#a8402e',
      borderWidth: 1,
      pointRadius: 0,
      fill: false,
    });
  return { datasets };
}

onMounted(() => {
  Chart.defaults.font.family = 'IBM Plex Sans';
  chart = new Chart(canvas.value!, {
    type: 'line',
    data: data(),
    options: {
      animation: false,
      parsing: false,
      normalized: true,
      responsive: true,
      maintainAspectRatio: false,
      interaction: { mode: 'index', intersect: false },
      layout: { padding: { right: PLOT_RIGHT } },
      scales: {
        x: {
          type: 'linear',
          min: props.span[0],
          max: props.span[1],
          ticks: {
            maxTicksLimit: 8,
            align: 'inner',
            font: CHART_FONT,
            callback: (v) => formatGps(Number(v), props.display, 0).slice(11),
          },
          grid: { color: '#e6eded' },
        },
        y: {
          afterFit: (axis) => {
            axis.width = PLOT_LEFT;
          },
          ticks: { maxTicksLimit: 5, font: CHART_FONT },
          grid: { color: '#e6eded' },
        },
      },
      plugins: {
        legend: { display: false },
        tooltip: {
          filter: (i) => !i.dataset.label?.endsWith('(lowest)'),
          callbacks: {
            title: (i) => formatGps(Number((i[0]?.raw as { x: number })?.x ?? 0), props.display, 1),
            label: (i) => `${i.dataset.label}: ${(i.raw as { y: number }).y} ${props.unit}`,
          },
        },
      },
    },
  });
});
watch(
  () => [props.time, props.series, props.span, props.limit],
  () => {
    if (!chart) return;
    chart.data = data();
    chart.options.scales!.x!.min = props.span[0];
    chart.options.scales!.x!.max = props.span[1];
    chart.update('none');
  },
);
onBeforeUnmount(() => chart?.destroy());
</script>

<template>
  <div class="plot">
    <canvas ref="canvas" role="img" :aria-label="series.map((s) => s.name).join(', ') + ' against time'" />
  </div>
</template>

<style scoped>
.plot {
  position: relative;
  height: 100%;
  min-height: 0;
}
</style>
