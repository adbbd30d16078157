<script setup lang="ts">
import { computed, onBeforeUnmount, onMounted, ref, watch } from 'vue';
import { BarController, BarElement, Chart, LinearScale, Tooltip, type Plugin } from 'chart.js';
import { binsOf } from './bins';
import { splitNumber } from '../ui/format';
import { CHART_FONT } from './layout';

Chart.register(BarController, BarElement, LinearScale, Tooltip);

/** Residuals in bins of equal width, centred on zero. @prop values, limit in metres. @prop factor units a metre. */
const props = defineProps<{
  values: number[];
  unit: string;
  factor: number;
  limit: number;
  digits?: number;
  /** What is shaded; the tolerance when nothing is said. */
  shaded?: string;
}>();
const canvas = ref<HTMLCanvasElement | null>(null);
const bins = computed(() => binsOf(props.values, props.limit));
const digits = computed(() => props.digits ?? 1);
const shown = (metres: number) => `${(metres * props.factor).toFixed(digits.value)} ${props.unit}`;
let chart: Chart<'bar', Array<{ x: number; y: number }>> | undefined;

/** Shades what lies within the tolerance, behind the bars. */
const tolerance: Plugin<'bar'> = {
  id: 'tolerance',
  beforeDatasetsDraw(drawn) {
    const { ctx, chartArea, scales } = drawn;
    const [left, right] = [-1, 1].map((side) => scales.x.getPixelForValue(side * props.limit));
    ctx.save();
    ctx.fillStyle = '#e7eeee';
    ctx.fillRect(left, chartArea.top, right - left, chartArea.height);
    ctx.restore();
  },
};
const data = () => ({
  datasets: [
    {
      data: bins.value.map((b) => ({ x: (b.fromM + b.toM) / 2, y: b.count })),
      backgroundColor: '#0e5e66',
      barPercentage: 0.9,
      categoryPercentage: 1,
    },
  ],
});
const ends = () => ({ min: bins.value[0].fromM, max: bins.value[bins.value.length - 1].toM });

onMounted(() => {
  chart = new Chart(canvas.value!, {
    type: 'bar',
    data: data(),
    plugins: [tolerance],
    options: {
      animation: false,
      responsive: true,
      maintainAspectRatio: false,
      scales: {
        x: {
          type: 'linear',
          ...ends(),
          grid: { display: false },
          ticks: {
            font: CHART_FONT,
            maxRotation: 0,
            callback: (v) => (Number(v) * props.factor).toFixed(digits.value),
          },
          afterBuildTicks: (axis) => {
            axis.ticks = [-props.limit, 0, props.limit].map((value) => ({ value }));
          },
          title: {
            display: true,
            text: `${props.unit}, ${props.shaded ?? 'tolerance'} shaded`,
            font: CHART_FONT,
            padding: 0,
          },
        },
        y: {
          beginAtZero: true,
          ticks: {
            font: CHART_FONT,
            precision: 0,
            maxTicksLimit: 4,
            callback: (v) => splitNumber(Number(v), 0).groups.join('\u2009'),
          },
          grid: { color: '#e6eded' },
        },
      },
      plugins: {
        legend: { display: false },
        tooltip: {
          displayColors: false,
          callbacks: {
            title: (items) => {
              const b = bins.value[items[0]?.dataIndex ?? 0];
              return `${shown(b.fromM)} to ${shown(b.toM)}`;
            },
            label: (item) => (item.parsed.y === 1 ? '1 residual' : `${item.parsed.y} residuals`),
          },
        },
      },
    },
  });
});
watch(
  () => [bins.value, props.limit, props.factor],
  () => {
    if (!chart) return;
    chart.data = data();
    Object.assign(chart.options.scales!.x!, ends());
    chart.update('none');
  },
);
onBeforeUnmount(() => chart?.destroy());
</script>

<template>
  <div class="histogram">
    <canvas
      ref="canvas"
      role="img"
      :aria-label="`Histogram of ${values.length} residuals, tolerance ${shown(limit)} either way`"
    />
  </div>
</template>

<style scoped>
.histogram {
  position: relative;
  height: 150px;
}
</style>
