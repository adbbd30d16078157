<script setup lang="ts">
import { onUnmounted, ref } from 'vue';
import { check, ContourStyle } from '@longheron/contract/requests';
import { useContourStyles } from '../../../stores/contourStyles';
import { useProject } from '../../../stores/project';
import { useView } from '../../../stores/view';

/** Chooses how contours look in plan and 3D; own looks are kept under a name. */
const store = useProject();
const view = useView();
const styles = useContourStyles();
const message = ref('');

function edit(): void {
  const from = styles.chosen;
  styles.trial = { ...from, name: styles.isOurs(from.name) ? '' : from.name };
  message.value = '';
}
async function keep(): Promise<void> {
  const checked = check(ContourStyle, styles.trial);
  message.value = 'message' in checked ? checked.message : '';
  if (message.value) return;
  await store.attempt(() => styles.keep({ ...styles.trial! }), 'The style is kept.');
}
const remove = (name: string) => store.attempt(() => styles.remove(name), `The style ${name} is gone.`);
onUnmounted(() => (styles.trial = null));
</script>

<template>
  <h3>Look of contours</h3>
  <template v-if="!styles.trial">
    <el-select v-model="view.contourStyle" aria-label="Look of contours" :placeholder="styles.chosen.name">
      <el-option v-for="s in styles.list" :key="s.name" :value="s.name" :label="s.name" />
    </el-select>
    <div>
      <el-button link type="primary" @click="edit">{{
        styles.isOurs(styles.chosen.name) ? 'Make one of my own…' : 'Change it…'
      }}</el-button>
      <el-button v-if="!styles.isOurs(styles.chosen.name)" link @click="remove(styles.chosen.name)"
        >Remove it</el-button
      >
    </div>
  </template>
  <el-form v-else novalidate class="form" @submit.prevent="keep">
    <label><span>Name</span><el-input v-model="styles.trial.name" aria-label="Name of the style" /></label>
    <label
      ><span>Lines</span
      ><input v-model="styles.trial.colour" type="color" aria-label="Colour of lines" /><el-input-number
        v-model="styles.trial.widthPx"
        :min="0.2"
        :max="5"
        :step="0.1"
        :precision="1"
        aria-label="Width of lines, px"
      /><span class="soft">px</span></label
    >
    <label
      ><span>Index lines</span
      ><input v-model="styles.trial.indexColour" type="color" aria-label="Colour of index lines" /><el-input-number
        v-model="styles.trial.indexWidthPx"
        :min="0.2"
        :max="5"
        :step="0.1"
        :precision="1"
        aria-label="Width of index lines, px"
      /><span class="soft">px</span></label
    >
    <el-checkbox v-model="styles.trial.heights" label="Heights on index lines" />
    <label v-if="styles.trial.heights"
      ><span>Decimals</span
      ><el-input-number
        v-model="styles.trial.decimals"
        :min="0"
        :max="3"
        step-strictly
        aria-label="Decimals of heights"
    /></label>
    <p class="soft">Plan and 3D show it as you change it; the 3D view raises dark colours. Files are not touched.</p>
    <p v-if="message" class="state bad">{{ message }}</p>
    <div class="line">
      <el-button type="primary" native-type="submit">Keep it</el-button>
      <el-button @click="styles.trial = null">Leave as it was</el-button>
    </div>
  </el-form>
</template>

<style scoped>
.form {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 6px;
  font-size: 12px;
}
label,
.line {
  display: flex;
  align-items: center;
  gap: 8px;
}
label > span:first-child {
  flex: 0 0 74px;
}
label .el-input {
  flex: 1;
}
.el-input-number {
  width: 96px;
}
input[type='color'] {
  width: 36px;
  height: 26px;
  padding: 1px;
  border: 1px solid var(--line);
  background: none;
}
.state {
  white-space: normal;
}
</style>
