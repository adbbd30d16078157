<script setup lang="ts">
/** One of the datasets that a panel can work on, by name; nothing where there is none. */
defineProps<{
  label: string;
  of: ReadonlyArray<{ id: number; name: string }>;
  chosen: number | undefined;
  empty?: string;
}>();
const emit = defineEmits<{ choose: [id: number] }>();
</script>

<template>
  <el-select
    v-if="of.length"
    :model-value="chosen"
    size="small"
    class="choice"
    :placeholder="empty ?? label"
    :aria-label="label"
    @change="(id: number) => emit('choose', id)"
  >
    <el-option v-for="d in of" :key="d.id" :value="d.id" :label="d.name" />
  </el-select>
</template>

<style scoped>
.choice {
  width: 100%;
  margin-bottom: 6px;
}
</style>
