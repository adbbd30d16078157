<script setup lang="ts">
import PlainButton from '../../../ui/PlainButton.vue';
import { nextTick, ref, watch } from 'vue';
import { imageKey } from '@longheron/core/photo';

/** Photographs side by side, with where they show the current point. */
export interface Frame {
  name: string;
  path: string;
  widthPx: number;
  heightPx: number;
  /** Where it is picked, or expected. */
  at: [number, number] | null;
  picked: boolean;
  bad: boolean;
  /** Something stands before it. */
  hidden: boolean;
}
const props = defineProps<{ frames: readonly Frame[]; current: string | undefined; waiting: boolean }>();
const emit = defineEmits<{ choose: [name: string] }>();
const strip = ref<HTMLElement | null>(null);
watch(
  () => [props.current, props.frames.length],
  () =>
    void nextTick(() =>
      strip.value?.querySelector('[aria-current=true]')?.scrollIntoView({ block: 'nearest', inline: 'nearest' }),
    ),
  { immediate: true },
);
const plain = (name: string) => name.replace(/\.[a-z]+$/i, '');
</script>

<template>
  <div ref="strip" class="strip" role="group" aria-label="Photographs that show the point">
    <PlainButton
      v-for="f in frames"
      :key="f.name"
      class="frame"
      :aria-current="current !== undefined && imageKey(f.name) === imageKey(current)"
      :title="f.name"
      @click="emit('choose', f.name)"
    >
      <span class="picture" :style="{ aspectRatio: `${f.widthPx} / ${f.heightPx}` }">
        <img :src="f.path" alt="" loading="lazy" />
        <i
          v-if="f.at"
          :class="{ picked: f.picked, bad: f.bad }"
          :style="{ left: `${(100 * (f.at[0] + 0.5)) / f.widthPx}%`, top: `${(100 * (f.at[1] + 0.5)) / f.heightPx}%` }"
        />
      </span>
      <span class="name">{{ plain(f.name) }}<template v-if="f.hidden">, hidden</template></span>
    </PlainButton>
    <p v-if="!frames.length" class="soft">
      {{ waiting ? 'Looking for photographs that show it …' : 'No photograph shows this point.' }}
    </p>
  </div>
</template>

<style scoped>
.strip {
  display: flex;
  gap: 6px;
  padding: 5px 8px;
  overflow-x: auto;
  border-top: 1px solid var(--line);
  background: var(--mist);
}
.frame {
  flex: none;
  display: grid;
  gap: 1px;
  padding: 2px;
  border: 1px solid transparent;
  border-radius: 4px;
  background: none;
  cursor: pointer;
}
.frame[aria-current='true'] {
  border-color: var(--reed);
  background: var(--reed-soft);
}
.picture {
  position: relative;
  display: block;
  height: 54px;
  background: #cdd6d8;
}
img {
  width: 100%;
  height: 100%;
  image-orientation: none;
}
i {
  position: absolute;
  width: 9px;
  height: 9px;
  margin: -5px 0 0 -5px;
  border: 2px solid #7fd3da;
  border-radius: 50%;
}
i.picked {
  background: #ffb13d;
  border-color: #5a3a00;
}
i.bad {
  background: #ff6b5a;
}
.name {
  font-size: 12px;
  line-height: 15px;
  color: var(--ink);
}
p {
  margin: 16px 0 0;
}
</style>
