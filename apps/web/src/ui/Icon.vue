<script setup lang="ts">
defineProps<{ name: 'flag' | 'work' | 'chevron' | 'undo' | 'close' | 'up' | 'help' | 'folder' | 'upload' }>();
const PATHS: Record<string, string> = {
  flag: 'M4 14V2.5h7.5L9.5 5.5l2 3H4',
  work: 'M8 2.5a5.5 5.5 0 1 0 5.5 5.5M8 4.5V8l2.5 1.5',
  chevron: 'M4 6l4 4 4-4',
  undo: 'M6 3L3 6l3 3M3 6h6a4 4 0 0 1 0 8H7',
  close: 'M4 4l8 8M12 4l-8 8',
  up: 'M8 13V3M4 7l4-4 4 4',
  help: 'M6 6a2 2 0 1 1 3 1.8c-.7.4-1 .9-1 1.7M8 12.2v.3',
  folder: 'M2 4h4l1.5 1.5H14V13H2z',
  upload: 'M3 13h10M8 10V3M5 6l3-3 3 3',
};
</script>

<template>
  <svg
    width="16"
    height="16"
    viewBox="0 0 16 16"
    fill="none"
    stroke="currentColor"
    stroke-width="1.5"
    stroke-linecap="round"
    stroke-linejoin="round"
    aria-hidden="true"
  >
    <path :d="PATHS[name]" />
  </svg>
</template>
