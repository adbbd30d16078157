<script setup lang="ts">
/** First rows of a foreign table: its headings, what each column is taken to hold, and its cells. */
defineProps<{
  header: string[];
  meanings: string[];
  rows: string[][];
  /** Whether a cell cannot be what its column is taken to hold. */
  wrong?: (row: string[], column: number) => boolean;
}>();
</script>

<template>
  <table class="figures">
    <thead>
      <tr>
        <th v-for="(h, i) in header" :key="i">{{ h }}</th>
      </tr>
      <tr>
        <th v-for="(m, i) in meanings" :key="i" class="meaning">{{ m }}</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="(row, r) in rows" :key="r">
        <td v-for="(_h, i) in header" :key="i" class="mono" :class="{ bad: wrong?.(row, i) }">{{ row[i] }}</td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
.meaning {
  color: var(--reed);
  top: 25px;
}
.bad {
  color: var(--clay);
}
</style>
