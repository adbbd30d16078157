<script setup lang="ts">
import { computed, ref, watch } from 'vue';
import { rolesByRules, splitByArea, type Mark, type RoleRule } from '@longheron/core/accuracy';
import { type DatasetDto } from '@longheron/contract/api';
import { api } from '../../../api/client';
import { useProject } from '../../../stores/project';
import FigureTable from '../../../ui/FigureTable.vue';

/** Gives roles to many marks at once, by rules or by a split, after showing what would change. */
const props = defineProps<{ dataset: DatasetDto; marks: Mark[] }>();
const store = useProject();
const open = ref(false);
const way = ref<'rules' | 'split'>('rules');
const ROLES = ['control', 'check', 'unused'] as const;
const rules = ref<RoleRule[]>([]);
const checks = ref(0);
const free = computed(() => props.marks.filter((m) => m.role !== 'unused' && !m.leftOutReason).length);

watch(
  () => [props.dataset.id, open.value],
  () => {
    // a rule for each code in the list is the usual start
    const codes = [...new Set(props.marks.map((m) => m.code).filter((c) => c !== undefined))];
    rules.value = codes.length
      ? codes.map((text) => ({ text, where: 'code' as const, role: 'check' as const }))
      : [{ text: '', where: 'name', role: 'check' }];
    checks.value = Math.min(free.value, Math.max(0, Math.round(free.value * 0.6)));
  },
  { immediate: true },
);

const proposed = computed(() =>
  way.value === 'rules' ? rolesByRules(props.marks, rules.value) : splitByArea(props.marks, checks.value),
);
const changes = computed(() =>
  proposed.value.map((p, i) => ({ ...p, before: props.marks[i].role })).filter((p) => p.role !== p.before),
);
const countAfter = (role: string) => proposed.value.filter((p) => p.role === role).length;
const unmatched = computed(() => (way.value === 'rules' ? proposed.value.filter((p) => !p.why).length : 0));
const by = computed(() =>
  way.value === 'split'
    ? `roles split by area: ${checks.value} to check`
    : `roles by rules: ${rules.value
        .filter((r) => r.text.trim())
        .map((r) => `${r.where} ${r.text.trim()} to ${r.role}`)
        .join('; ')}`,
);
async function give(): Promise<void> {
  const roles = changes.value.map(({ name, role }) => ({ name, role }));
  const given = await store.attempt(
    () =>
      api.post(`/projects/${store.project!.id}/datasets/${props.dataset.id}/roles`, {
        roles,
        by: by.value.slice(0, 500),
      }),
    `${roles.length} marks have another role now. The trail below takes it back.`,
  );
  if (given) open.value = false;
}
</script>

<template>
  <el-button v-if="!open" link type="primary" class="opener" @click="open = true"
    >Give roles by rules or by area…</el-button
  >
  <section v-else class="panel">
    <h3>Roles of many marks</h3>
    <el-radio-group v-model="way" aria-label="How roles are given">
      <el-radio-button value="rules">By name, code or note</el-radio-button>
      <el-radio-button value="split">Split by area</el-radio-button>
    </el-radio-group>
    <template v-if="way === 'rules'">
      <p class="soft">
        The first rule that fits decides; * stands for anything. Marks that none fits stay as they are.
      </p>
      <div v-for="(rule, i) in rules" :key="i" class="rule">
        <el-select v-model="rule.where" :aria-label="`Rule ${i + 1} looks at`"
          ><el-option v-for="w in ['name', 'code', 'note']" :key="w" :value="w" :label="w"
        /></el-select>
        <el-input v-model="rule.text" :aria-label="`Text of rule ${i + 1}`" placeholder="for example N1*" />
        <el-select v-model="rule.role" :aria-label="`Role of rule ${i + 1}`"
          ><el-option v-for="r in ROLES" :key="r" :value="r" :label="r"
        /></el-select>
        <el-button :aria-label="`Remove rule ${i + 1}`" :disabled="rules.length === 1" @click="rules.splice(i, 1)"
          >×</el-button
        >
      </div>
      <el-button link type="primary" @click="rules.push({ text: '', where: 'name', role: 'check' })"
        >Add a rule</el-button
      >
    </template>
    <template v-else>
      <p class="soft">
        {{ free }} marks are control or check. Those to check are chosen so that every part of the area has its share;
        the rest become control. The standards ask for 20 (2014) or 30 (2024) check marks.
      </p>
      <label class="split"
        >Marks to check
        <el-input-number v-model="checks" :min="0" :max="free" :step="1" step-strictly aria-label="Marks to check"
      /></label>
    </template>
    <p class="result">
      {{ countAfter('control') }} control, {{ countAfter('check') }} check, {{ countAfter('unused') }} unused;
      {{ changes.length }} change<span v-if="unmatched" class="soft">, {{ unmatched }} fit no rule</span>
    </p>
    <div v-if="changes.length" class="scroll">
      <FigureTable
        :columns="[
          { key: 'c0', label: '' },
          { key: 'c1', label: '' },
          { key: 'c2', label: '' },
          { key: 'c3', label: '' },
        ]"
        :rows="changes"
        :row-key="(c) => c.name"
        ><template #c0="{ row: c }">{{ c.name }}</template
        ><template #c1="{ row: c }"
          ><span class="soft">{{ c.before }} to</span></template
        ><template #c2="{ row: c }">{{ c.role }}</template
        ><template #c3="{ row: c }"
          ><span class="soft">{{ c.why }}</span></template
        ></FigureTable
      >
    </div>
    <div class="buttons">
      <el-button type="primary" :disabled="changes.length === 0" @click="give">Give these roles</el-button>
      <el-button @click="open = false">Leave as it is</el-button>
    </div>
  </section>
</template>

<style scoped>
.opener {
  margin-top: 6px;
}
.panel {
  margin-top: 12px;
  border-top: 1px solid var(--line);
}
h3 {
  margin: 10px 0 6px;
}
.panel p {
  margin: 8px 0 6px;
}
.rule {
  display: grid;
  grid-template-columns: 76px 1fr 88px 32px;
  gap: 4px;
  margin-bottom: 4px;
}
.rule .el-button {
  margin: 0;
  padding: 5px;
}
.split {
  display: flex;
  justify-content: space-between;
  align-items: center;
  font-size: 12px;
}
.result {
  margin: 8px 0 4px;
}
.scroll {
  max-height: 180px;
  overflow: auto;
  border: 1px solid var(--line);
}
.buttons {
  display: flex;
  margin-top: 8px;
}
</style>
