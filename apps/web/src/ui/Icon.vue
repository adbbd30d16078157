<script setup lang="ts">
import { ICONS, type IconName } from './icons';

defineProps<{ name: IconName }>();
</script>

<template>
  <el-icon :size="16" aria-hidden="true"><component :is="ICONS[name]" /></el-icon>
</template>
