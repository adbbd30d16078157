<script setup lang="ts">
import { ref } from 'vue';
import { type Given } from '@longheron/contract/declare';
import { filledIn, PLATFORMS, type Platform } from './platforms';

/** Fills in what is usual on a platform, and says what that was. */
const settings = defineModel<Given>({ required: true });
const platform = ref<Platform | ''>('');
const said = ref('');
function take(chosen: Platform): void {
  const filled = filledIn(chosen, settings.value);
  settings.value = filled.settings;
  said.value = filled.said;
}
</script>

<template>
  <el-form-item label="Platform">
    <el-select v-model="platform" aria-label="Platform" placeholder="fills in what is usual on it" @change="take">
      <el-option v-for="(name, key) in PLATFORMS" :key="key" :value="key" :label="name" />
    </el-select>
    <p v-if="said" class="soft said" role="status">{{ said }}</p>
  </el-form-item>
</template>

<style scoped>
.said {
  margin: 4px 0 0;
  line-height: 1.35;
  font-size: 12px;
}
</style>
