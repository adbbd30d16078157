<script setup lang="ts">
import { computed, onBeforeUnmount, ref, watch } from 'vue';
import { useDebounceFn, useEventListener } from '@vueuse/core';
import { type CloudEditEntry, type DatasetOf, type SelectionCountDto } from '@longheron/contract/api';
import { useOwnClasses } from '../../../stores/ownClasses';
import { api } from '../../../api/client';
import { useActs } from '../../../stores/acts';
import { useProject } from '../../../stores/project';
import { useSelection } from '../../../stores/selection';
import { isTyping } from '../../../ui/keys';
import Num from '../../../ui/Num.vue';
import TrailList from '../../../ui/TrailList.vue';
import { className } from '../../../views3d/colouring';
import FigureTable from '../../../ui/FigureTable.vue';

/** What is selected of a cloud, counted, and what can be done with it; every act can be undone, and is kept. */
const props = defineProps<{ dataset: DatasetOf<'point-cloud'> }>();
const store = useProject();
const selection = useSelection();
watch(
  () => props.dataset.id,
  (id) => selection.begin(id),
  { immediate: true },
);
onBeforeUnmount(() => (selection.tool = 'none'));
const at = (what: string) => `/projects/${store.project!.id}/datasets/${props.dataset.id}/${what}`;

// the whole cloud is counted by the server a moment after the last change
const counting = ref(false);
let asked = 0;
const count = useDebounceFn(async () => {
  const turn = ++asked;
  if (!selection.current) return;
  counting.value = true;
  try {
    const got = await api.post<SelectionCountDto>(at('select'), { selection: selection.current });
    if (turn === asked) selection.exact = got;
  } catch (e) {
    if (turn === asked) store.show(e);
  } finally {
    if (turn === asked) counting.value = false;
  }
}, 350);
watch(
  () => [selection.current, props.dataset.revision.id],
  () => {
    asked++;
    selection.exact = null;
    counting.value = !!selection.current;
    if (selection.current) void count();
  },
);
const rows = computed(() => {
  const [drawn, exact] = [selection.drawn?.byClass ?? {}, selection.exact?.byClass];
  const classes = [...new Set([...Object.keys(drawn), ...Object.keys(exact ?? {})])].map(Number).sort((a, b) => a - b);
  return classes.map((c) => ({ cls: c, drawn: drawn[c] ?? 0, exact: exact ? (exact[c] ?? 0) : null }));
});
const words = computed(() => {
  const n = selection.regions.length;
  const what = selection.everything ? 'All that is shown' : n === 1 ? 'One shape' : `${n} shapes`;
  return selection.inverted ? `${what}, turned inside out` : what;
});

const acts = useActs();
const busy = computed(() => acts.busy);
const to = ref(2);
async function act(what: CloudEditEntry['act'], label: string): Promise<void> {
  if (!selection.current || busy.value) return;
  if (await acts.act(props.dataset.id, selection.current, what, label)) selection.clear();
}
const THINNINGS = [0.02, 0.05, 0.1, 0.2, 0.5, 1];
const thin = ref(0);
const keep = ref<'precise' | 'first'>('precise');
/** The selection as a cloud of its own, beside this one. */
const extract = () =>
  store.run(
    'extract',
    { cloud: props.dataset.id },
    { selection: selection.current, ...(thin.value ? { thinM: thin.value, keep: keep.value } : {}) },
  );
const edits = computed(() => (props.dataset.revision.content.edits as CloudEditEntry[] | undefined) ?? []);
const classRows = computed(() => [
  ...rows.value.map((r) => ({ name: className(r.cls), drawn: r.drawn as number | undefined, exact: r.exact })),
  ...(selection.exact?.rejected
    ? [{ name: 'of them rejected', drawn: undefined, exact: selection.exact.rejected }]
    : []),
]);
const rejected = computed(() => Number(props.dataset.revision.content.rejected ?? 0));
const actWords = (e: CloudEditEntry) =>
  e.act.kind === 'class' ? `to ${className(e.act.to)}` : e.act.kind === 'reject' ? 'rejected' : 'taken back';
const own = useOwnClasses();
const classes = computed(() => own.codes);

useEventListener(window, 'keydown', (event: KeyboardEvent) => {
  if (isTyping(event.target) || event.ctrlKey || event.metaKey || event.altKey || !selection.current) return;
  if (event.key === 'Escape' && selection.tool === 'none') selection.clear();
  else if (event.key === 'i') selection.inverted = !selection.inverted;
  else if (event.key === 'Delete') void act({ kind: 'reject' }, 'Rejecting');
  else if (event.key === 'Backspace' && selection.regions.length) selection.back();
  else return;
  event.preventDefault();
});
</script>

<template>
  <section v-if="selection.current" class="chosen" aria-live="polite">
    <p>
      {{ words }}: <strong v-if="selection.exact"><Num :value="selection.exact.count" /> points</strong
      ><span v-else class="soft">{{ counting ? 'counting …' : '' }}</span>
    </p>
    <FigureTable
      v-if="rows.length"
      :columns="[
        { key: 'cls', label: 'Class', value: (r) => r.name },
        {
          key: 'drawn',
          label: 'drawn',
          hint: 'Of the points drawn in the cloud view',
          right: true,
          value: (r) => r.drawn,
        },
        { key: 'exact', label: 'whole cloud', right: true, value: (r) => r.exact },
      ]"
      :rows="classRows"
      :row-key="(r) => r.name"
    >
      <template #drawn="{ row: r }"><Num v-if="r.drawn !== undefined" :value="r.drawn" /></template>
      <template #exact="{ row: r }"><Num :value="r.exact" /></template>
    </FigureTable>
    <p v-else-if="selection.exact" class="soft">No point that is shown lies in it.</p>
    <div class="acts">
      <el-button
        type="primary"
        :loading="busy === 'Rejecting'"
        :disabled="!!busy || !selection.exact?.count"
        title="They keep their class and their place; products leave them out (Delete)"
        @click="act({ kind: 'reject' }, 'Rejecting')"
        >Reject</el-button
      >
      <el-button
        :loading="busy === 'Taking back'"
        :disabled="!!busy || !selection.exact?.count"
        title="No longer rejected; strays become unclassified"
        @click="act({ kind: 'restore' }, 'Taking back')"
        >Take back</el-button
      >
    </div>
    <div class="acts">
      <el-select v-model="to" filterable aria-label="Class to set"
        ><el-option v-for="c in classes" :key="c" :value="c" :label="`${c} ${className(c)}`"
      /></el-select>
      <el-button
        :loading="busy === 'Setting'"
        :disabled="!!busy || !selection.exact?.count"
        @click="act({ kind: 'class', to }, 'Setting')"
        >Set class</el-button
      >
    </div>
    <details>
      <summary>To a new cloud</summary>
      <label class="line"
        >Thin to one point in<el-select v-model="thin" size="small" aria-label="Thin to one point in"
          ><el-option :value="0" label="no thinning" /><el-option
            v-for="m in THINNINGS"
            :key="m"
            :value="m"
            :label="`cubes of ${m} m`" /></el-select
      ></label>
      <label v-if="thin" class="line"
        >Kept is<el-select v-model="keep" size="small" aria-label="Which point of a cube is kept"
          ><el-option value="precise" label="the most precise" /><el-option
            value="first"
            label="the first" /></el-select
      ></label>
      <el-button size="small" :disabled="!!busy || !selection.exact?.count" @click="extract">Make the cloud</el-button>
    </details>
    <div class="acts links">
      <el-button link title="Everything that is shown but them (i)" @click="selection.inverted = !selection.inverted"
        >Turn inside out</el-button
      >
      <el-button link :disabled="selection.regions.length < 2" title="Backspace" @click="selection.back"
        >Last shape back</el-button
      >
      <el-button link title="Esc" @click="selection.clear">Let go</el-button>
    </div>
  </section>
  <template v-else>
    <p class="soft">
      Nothing is selected. Only points that are shown are: hidden classes, rejected points and times outside the brush
      stay as they are.
    </p>
    <el-button size="small" @click="selection.selectAll">Select all that is shown</el-button>
  </template>

  <h3>Done so far</h3>
  <p v-if="edits.length === 0" class="soft">Nothing was changed by hand in this revision.</p>
  <template v-else>
    <p v-if="rejected"><Num :value="rejected" /> points are rejected.</p>
    <ol class="done" reversed>
      <li v-for="(e, i) in [...edits].reverse()" :key="i">
        <Num :value="e.points" /> {{ actWords(e) }} <span class="soft">{{ e.at.slice(11, 16) }} UTC</span>
      </li>
    </ol>
  </template>
  <div class="acts">
    <el-button :disabled="!dataset.canUndo || !!busy" title="Ctrl+Z" @click="store.stepBack(dataset, 'undo')"
      >Undo</el-button
    >
    <el-button :disabled="!dataset.canRedo || !!busy" title="Ctrl+Shift+Z" @click="store.stepBack(dataset, 'redo')"
      >Redo</el-button
    >
    <a :href="`/api${at('export/las')}`">Download as LAS</a>
  </div>
  <TrailList :dataset="dataset" />
</template>

<style scoped>
.chosen {
  border: 1px solid #ff6fb0;
  border-radius: 4px;
  padding: 4px 8px 6px;
  margin: 8px 0;
}
.figures td,
.figures th {
  font-size: 12px;
  padding: 2px 3px;
}
.line {
  display: flex;
  justify-content: space-between;
  align-items: center;
  font-size: 12px;
  margin: 4px 0;
}
.line .el-select {
  width: 140px;
}
details {
  font-size: 12.5px;
}
.acts {
  display: flex;
  gap: 6px;
  margin: 6px 0;
  align-items: center;
}
.acts .el-button {
  margin: 0;
}
.links {
  justify-content: space-between;
}
.done {
  margin: 4px 0;
  padding-left: 26px;
  max-height: 150px;
  overflow: auto;
  font-size: 12px;
}
</style>
