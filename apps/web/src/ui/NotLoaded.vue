<script setup lang="ts">
import { type Loaded } from './loaded';

/** Says that something could not be read, why, and reads it once more when asked. */
defineProps<{ what: string; of: Loaded<unknown> }>();
</script>

<template>
  <p v-if="of.failed.value" class="not-loaded" role="alert">
    {{ what }} could not be read. {{ of.failed.value }}
    <el-button size="small" @click="of.again()">Try again</el-button>
  </p>
</template>

<style scoped>
.not-loaded {
  color: var(--clay);
  font-size: 12px;
  margin: 6px 0;
}
</style>
