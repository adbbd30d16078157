<script setup lang="ts" generic="T">
import { computed, ref } from 'vue';
import { ElMessage } from 'element-plus';
import { csvOf, sorted, type Column } from './figureTable';
import ToolMenu from './ToolMenu.vue';

/**
 * Figures by row and column: sorted by a heading where its column has values, copied or saved as CSV with all their
 * digits. A slot by the key of a column draws its cells.
 */
const props = defineProps<{
  columns: Array<Column<T>>;
  rows: readonly T[];
  /** Of a row, when rows change places. */
  rowKey?: (row: T, index: number) => string | number;
  rowClass?: (row: T, index: number) => unknown;
  rowTitle?: (row: T, index: number) => string | undefined;
  /** Name of the file it is saved as; without it the table is neither copied nor saved. */
  name?: string;
  label?: string;
  /** Rows react to being pressed. */
  pick?: boolean;
}>();
const emit = defineEmits<{ pick: [row: T, index: number]; enter: [row: T, index: number]; leave: [row: T] }>();
defineSlots<Record<string, (cell: { row: T; index: number }) => unknown> & { after?: () => unknown }>();
const order = ref<{ key: string; down: boolean } | null>(null);
const shown = computed(() => {
  const column = order.value && props.columns.find((c) => c.key === order.value!.key);
  const rows = props.rows.map((row, index) => ({ row, index }));
  return column?.value && order.value ? sorted(rows, (r) => column.value!(r.row), order.value.down) : rows;
});
/** Up, down, and as they came. */
function sortBy(c: Column<T>): void {
  if (!c.value) return;
  if (order.value?.key !== c.key) order.value = { key: c.key, down: false };
  else order.value = order.value.down ? null : { key: c.key, down: true };
}
const sortOf = (c: Column<T>) =>
  order.value?.key !== c.key ? (c.value ? 'none' : undefined) : order.value.down ? 'descending' : 'ascending';
const text = (separator: string) =>
  csvOf(
    props.columns,
    shown.value.map((r) => r.row),
    separator,
  );
async function act(key: string): Promise<void> {
  if (key === 'copy') {
    await navigator.clipboard.writeText(text('\t'));
    ElMessage({ message: `${props.rows.length} rows are copied.`, type: 'success' });
    return;
  }
  const url = URL.createObjectURL(new Blob([text(',')], { type: 'text/csv' }));
  Object.assign(document.createElement('a'), { href: url, download: `${props.name}.csv` }).click();
  URL.revokeObjectURL(url);
}
</script>

<template>
  <table class="figures" :aria-label="label">
    <thead v-if="columns.some((c) => c.label)">
      <tr>
        <th v-for="(c, k) in columns" :key="c.key" :class="{ r: c.right }" :title="c.hint" :aria-sort="sortOf(c)">
          <button v-if="c.value" type="button" class="sort" @click="sortBy(c)">
            {{ c.label }}<span v-if="order?.key === c.key" aria-hidden="true">{{ order.down ? ' ↓' : ' ↑' }}</span>
          </button>
          <template v-else>{{ c.label }}</template>
          <ToolMenu
            v-if="name && rows.length && k === columns.length - 1"
            class="more"
            icon="more"
            label="This table"
            :items="[
              { key: 'copy', label: 'Copy the table' },
              { key: 'csv', label: 'Save as CSV' },
            ]"
            @choose="act"
          />
        </th>
      </tr>
    </thead>
    <tbody>
      <tr
        v-for="{ row, index } in shown"
        :key="rowKey ? rowKey(row, index) : index"
        :class="[rowClass?.(row, index), { link: pick }]"
        :title="rowTitle?.(row, index)"
        @click="emit('pick', row, index)"
        @pointerenter="emit('enter', row, index)"
        @pointerleave="emit('leave', row)"
      >
        <td v-for="c in columns" :key="c.key" :class="{ r: c.right, mono: c.mono, wrap: c.wrap }">
          <slot :name="c.key" :row="row" :index="index">{{ c.value?.(row) ?? '–' }}</slot>
        </td>
      </tr>
      <slot name="after" />
    </tbody>
  </table>
</template>

<style scoped>
.sort {
  all: unset;
  cursor: pointer;
}
.sort:focus-visible {
  outline: 2px solid var(--reed);
}
/* over the headings, when one looks at them */
.more {
  position: absolute;
  right: 0;
  top: 1px;
  opacity: 0;
  background: var(--paper);
}
thead:hover .more,
.more:focus-within {
  opacity: 1;
}
.link {
  cursor: pointer;
}
tr.chosen td {
  background: var(--reed-soft);
}
</style>
