<script setup lang="ts">
/** Under a form that makes a result: the first time, again in its place, or another beside it. */
defineProps<{ first: string; again: string; there: boolean; able: boolean }>();
const emit = defineEmits<{ beside: [] }>();
</script>

<template>
  <div class="buttons">
    <el-button type="primary" native-type="submit" :disabled="!able">{{ there ? again : first }}</el-button>
    <el-button v-if="there" :disabled="!able" title="Keeps this one and makes another beside it" @click="emit('beside')"
      >Beside it</el-button
    >
  </div>
</template>
