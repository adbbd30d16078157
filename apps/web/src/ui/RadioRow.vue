<script setup lang="ts">
/** One of a few, side by side; with `none` the chosen one can be let go of by pressing it again. */
const props = defineProps<{
  label: string;
  choices: ReadonlyArray<{ key: string; label: string; hint?: string }>;
  none?: string;
}>();
const chosen = defineModel<string>({ required: true });
const choose = (key: string) => (chosen.value = props.none !== undefined && chosen.value === key ? props.none : key);
</script>

<template>
  <div class="row" role="radiogroup" :aria-label="label">
    <button
      v-for="c in choices"
      :key="c.key"
      type="button"
      role="radio"
      :aria-checked="chosen === c.key"
      :title="c.hint"
      @click="choose(c.key)"
    >
      {{ c.label }}
    </button>
  </div>
</template>

<style scoped>
.row {
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
}
button {
  background: var(--paper);
  color: inherit;
  border: 1px solid var(--line);
  border-radius: 4px;
  padding: 2px 8px;
  cursor: pointer;
  font-size: 12px;
}
button[aria-checked='true'] {
  background: var(--reed);
  border-color: var(--reed);
  color: #fff;
}
</style>
