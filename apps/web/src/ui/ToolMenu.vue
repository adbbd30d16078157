<script setup lang="ts">
import Icon from './Icon.vue';
import ToolButton from './ToolButton.vue';
import { type IconName } from './icons';

/** A tool that opens a list of things to do, or of things that are shown or not. */
export interface ToolItem {
  key: string;
  label: string;
  /** Of a switch: whether it is on. */
  on?: boolean;
  /** A line above it. */
  divided?: boolean;
}
withDefaults(
  defineProps<{ label: string; icon: IconName; items: ToolItem[]; hint?: string; words?: string; pressed?: boolean }>(),
  { hint: undefined, words: undefined, pressed: undefined },
);
const emit = defineEmits<{ choose: [key: string]; open: [] }>();
</script>

<template>
  <el-dropdown
    trigger="click"
    :hide-on-click="items.every((i) => i.on === undefined)"
    @command="emit('choose', $event)"
    @visible-change="$event && emit('open')"
  >
    <ToolButton :label="label" :icon="icon" :hint="hint" :pressed="pressed">
      <span v-if="words">{{ words }}</span>
    </ToolButton>
    <template #dropdown>
      <el-dropdown-menu :aria-label="label">
        <el-dropdown-item
          v-for="i in items"
          :key="i.key"
          :command="i.key"
          :divided="i.divided"
          :aria-checked="i.on"
          :role="i.on === undefined ? 'menuitem' : 'menuitemcheckbox'"
        >
          <span class="mark"><Icon v-if="i.on" name="show" /></span>{{ i.label }}
        </el-dropdown-item>
      </el-dropdown-menu>
    </template>
  </el-dropdown>
</template>

<style scoped>
.el-dropdown {
  color: inherit;
}
.mark {
  display: inline-flex;
  width: 20px;
}
.mark:empty {
  width: 0;
}
[aria-checked] .mark {
  width: 20px;
}
</style>
