<script setup lang="ts">
import Icon from './Icon.vue';
import { type IconName } from './icons';

/** A tool: an icon, its words on hovering over it; pressed or not where it is a switch. */
// a button that is no switch is neither pressed nor not
withDefaults(
  defineProps<{
    label: string;
    icon?: IconName;
    /** What it does, where the label does not say all. */
    hint?: string;
    pressed?: boolean;
    disabled?: boolean;
  }>(),
  { icon: undefined, hint: undefined, pressed: undefined },
);
</script>

<template>
  <button
    type="button"
    class="tool"
    :aria-label="label"
    :aria-pressed="pressed"
    :title="hint ? `${label}: ${hint}` : label"
    :disabled="disabled"
  >
    <Icon v-if="icon" :name="icon" /><template v-else>{{ label }}</template
    ><slot />
  </button>
</template>

<style scoped>
.tool {
  flex: none;
  display: inline-flex;
  align-items: center;
  justify-content: center;
  gap: 4px;
  min-width: 26px;
  height: 24px;
  padding: 0 5px;
  border: 1px solid transparent;
  border-radius: 4px;
  background: none;
  color: inherit;
  font-size: 12px;
  white-space: nowrap;
  cursor: pointer;
}
.tool:hover:not(:disabled) {
  border-color: var(--line);
}
.tool[aria-pressed='true'] {
  background: var(--reed-soft);
  border-color: var(--reed);
}
.tool:disabled {
  opacity: 0.5;
  cursor: default;
}
</style>
