<script setup lang="ts" generic="T extends object">
import { computed } from 'vue';
import { type Given, type Schema, type Setting as Declared } from '@longheron/contract/declare';
import Setting from './Setting.vue';

/** Settings of an operation as its declaration has them: name, unit, range and reason, and when each stands in the form. */
const props = defineProps<{
  schema: Schema;
  /** These alone, in this order; all without it. */
  only?: readonly string[];
  /** Which roles are filled. */
  chosen?: { readonly [role: string]: boolean };
}>();
const settings = defineModel<T>({ required: true });
const values = computed((): Given => Object.fromEntries(Object.entries(settings.value)));
const shown = computed(() =>
  (props.only ?? Object.keys(props.schema)).flatMap((key): Array<[string, Declared]> => {
    const s = props.schema[key];
    return s && (s.shown?.(values.value, props.chosen ?? {}) ?? true) ? [[key, s]] : [];
  }),
);
const set = (key: string, value: unknown) => (settings.value = { ...settings.value, [key]: value });
const listOf = (key: string) => (Array.isArray(values.value[key]) ? (values.value[key] as string[]) : []);
const numberOf = (key: string) => (typeof values.value[key] === 'number' ? values.value[key] : undefined);
</script>

<template>
  <template v-for="[key, s] in shown" :key="key">
    <slot v-if="$slots[key]" :name="key" :setting="s" />
    <Setting
      v-else-if="s.type === 'number'"
      :model-value="numberOf(key)"
      :label="s.label"
      :unit="s.unit"
      :reason="s.reason"
      :min="s.min"
      :max="s.max"
      :step="s.step"
      :digits="s.digits"
      @update:model-value="set(key, $event)"
    />
    <div v-else-if="s.type === 'flag'" class="row">
      <el-checkbox :model-value="values[key] === true" :label="s.label" @update:model-value="set(key, $event)" />
      <p class="soft">{{ s.reason }}</p>
    </div>
    <div v-else-if="s.type === 'choice'" class="row">
      <label class="above"
        ><span>{{ s.label }}</span
        ><el-select
          :model-value="String(values[key] ?? '')"
          :aria-label="s.label"
          :clearable="s.usual === null"
          @update:model-value="set(key, $event || undefined)"
          ><el-option v-for="(words, value) in s.choices" :key="value" :value="value" :label="words" /></el-select
      ></label>
      <p class="soft">{{ s.reason }}</p>
    </div>
    <div v-else-if="s.type === 'values' && s.of.type === 'text'" class="row">
      <label class="above"
        ><span>{{ s.label }}</span
        ><el-select
          :model-value="listOf(key)"
          :aria-label="s.label"
          multiple
          filterable
          allow-create
          default-first-option
          :reserve-keyword="false"
          no-data-text="Type one and press Enter"
          placeholder="None"
          @update:model-value="set(key, $event)"
      /></label>
      <p class="soft">{{ s.reason }}</p>
    </div>
    <div v-else-if="s.type === 'text'" class="row">
      <label class="line"
        ><span>{{ s.label }}</span
        ><el-input
          :model-value="String(values[key] ?? '')"
          :aria-label="s.label"
          :maxlength="s.most"
          @update:model-value="set(key, $event || undefined)"
      /></label>
      <p class="soft">{{ s.reason }}</p>
    </div>
  </template>
</template>

<style scoped>
.row {
  margin-bottom: 6px;
}
.line {
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: 8px;
}
.above {
  display: grid;
  gap: 2px;
}
.line .el-input {
  width: 140px;
  flex: none;
}
p {
  margin: 1px 0 0;
  font-size: 12px;
  line-height: 1.35;
}
</style>
