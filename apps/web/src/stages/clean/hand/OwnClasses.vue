<script setup lang="ts">
import { computed, ref } from 'vue';
import { useOwnClasses } from '../../../stores/ownClasses';
import ToolButton from '../../../ui/ToolButton.vue';

/** The project's own classes: codes from 64 on, which the standard leaves to people. */
const own = useOwnClasses();
const PALETTE = ['#3fa7a0', '#c07bd0', '#e0b04a', '#7d8be0', '#d0667a', '#8fbf5a'];
const free = computed(() => {
  for (let c = 64; c < 256; c++) if (!own.list.some((k) => k.code === c)) return c;
  return 255;
});
const code = ref<number | undefined>();
const name = ref('');
const colour = ref(PALETTE[0]);
async function add(): Promise<void> {
  const made = { code: code.value || free.value, name: name.value.trim(), colour: colour.value };
  if (!(await own.keep(made))) return;
  name.value = '';
  code.value = undefined;
  // the next begins with another colour
  colour.value = PALETTE[own.list.length % PALETTE.length];
}
</script>

<template>
  <details>
    <summary>Classes of this project ({{ own.list.length }})</summary>
    <p class="soft">
      Codes 64 to 255 are free in the LAS standard. A class that is given up leaves its points their code.
    </p>
    <ul>
      <li v-for="c in own.list" :key="c.code">
        <i :style="{ background: c.colour }" /><span class="mono">{{ c.code }}</span
        ><span>{{ c.name }}</span>
        <ToolButton icon="close" :label="`Delete ${c.name}`" @click="own.remove(c.code)" />
      </li>
    </ul>
    <form @submit.prevent="add">
      <input v-model.number="code" type="number" min="64" max="255" :placeholder="String(free)" aria-label="Code" />
      <input v-model="name" maxlength="40" placeholder="name" aria-label="Name of the class" />
      <input v-model="colour" type="color" aria-label="Colour" />
      <el-button native-type="submit" size="small" :disabled="!name.trim()">Add</el-button>
    </form>
  </details>
</template>

<style scoped>
details {
  font-size: 12.5px;
  margin-top: 12px;
}
ul {
  list-style: none;
  margin: 0 0 6px;
  padding: 0;
}
li {
  display: grid;
  grid-template-columns: 12px 30px minmax(0, 1fr) 18px;
  gap: 6px;
  align-items: center;
}
li i {
  width: 10px;
  height: 10px;
}
form {
  display: grid;
  grid-template-columns: 56px minmax(0, 1fr) 32px auto;
  gap: 4px;
}
input {
  border: 1px solid var(--line);
  border-radius: 4px;
  font: inherit;
  height: 24px;
  padding: 0 4px;
  min-width: 0;
}
input[type='color'] {
  padding: 1px;
}
</style>
