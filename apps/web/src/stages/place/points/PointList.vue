<script setup lang="ts">
import { computed, ref } from 'vue';
import { useLocalStorage } from '@vueuse/core';
import PlainButton from '../../../ui/PlainButton.vue';
import { type PointRow } from './usePoints';
import { nextName } from './names';

/** Marks and tie points with their picks; a new one gets the next number of its prefix. */
const props = defineProps<{ rows: readonly PointRow[]; current: string | undefined }>();
const emit = defineEmits<{ choose: [name: string]; add: [name: string] }>();
const prefix = useLocalStorage('longheron.points.prefix', 't');
const search = ref('');
const shown = computed(() =>
  props.rows.filter((r) => r.name.toLowerCase().includes(search.value.trim().toLowerCase())),
);
const add = () =>
  emit(
    'add',
    nextName(
      prefix.value.trim() || 't',
      props.rows.map((r) => r.name),
    ),
  );
</script>

<template>
  <div class="bar">
    <el-input v-model="search" size="small" placeholder="Search" aria-label="Search points" clearable />
  </div>
  <ul class="points" aria-label="Points">
    <li v-for="r in shown" :key="r.name">
      <PlainButton class="row" :class="{ chosen: r.name === current }" @click="emit('choose', r.name)">
        <span class="name">{{ r.name }}</span>
        <span class="soft">{{ r.role }}</span>
        <span class="mono n" :class="{ none: !r.picks.length }">{{ r.picks.length }}</span>
      </PlainButton>
    </li>
    <li v-if="!shown.length" class="soft">{{ rows.length ? 'No point has such a name.' : 'No point yet.' }}</li>
  </ul>
  <div class="new">
    <el-input v-model="prefix" size="small" maxlength="20" aria-label="Prefix of new points" />
    <el-button size="small" @click="add">New point</el-button>
  </div>
</template>

<style scoped>
.bar {
  margin-bottom: 4px;
}
.points {
  list-style: none;
  margin: 0;
  padding: 0;
  max-height: 38vh;
  overflow: auto;
  border: 1px solid var(--line);
  border-radius: 4px;
  background: var(--paper);
}
.points li.soft {
  padding: 6px 8px;
}
.row {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto 26px;
  gap: 6px;
  width: 100%;
  padding: 2px 8px;
}
.row.chosen {
  background: var(--reed-soft);
  box-shadow: inset 3px 0 0 var(--reed);
}
.name {
  overflow: hidden;
  text-overflow: ellipsis;
  font-weight: 600;
}
.n {
  text-align: right;
}
.n.none {
  color: var(--ink-soft);
}
.new {
  display: grid;
  grid-template-columns: 64px 1fr;
  gap: 6px;
  margin: 8px 0;
}
</style>
