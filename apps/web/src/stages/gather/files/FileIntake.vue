<script setup lang="ts">
import { computed, ref, watch } from 'vue';
import { READ_FORMATS } from '@longheron/contract/formats';
import { api } from '../../../api/client';
import { useIntake } from '../../../stores/intake';
import { useProject } from '../../../stores/project';
import IncomingFile from './IncomingFile.vue';
import { bytesText } from '../../../ui/format';
import Icon from '../../../ui/Icon.vue';
import PlainButton from '../../../ui/PlainButton.vue';
import Fact from '../../../ui/Fact.vue';
import FactList from '../../../ui/FactList.vue';

const open = defineModel<boolean>({ required: true });
const store = useProject();
const intake = useIntake();
const files = computed(() => intake.files.filter((f) => f.project === store.project?.id));
const over = ref(false);
const picker = ref<HTMLInputElement | null>(null);
const send = (list: FileList) => intake.send(store.project!.id, list);

interface Entry {
  name: string;
  path: string;
  folder: boolean;
  bytes: number;
}
const folder = ref<{ path: string | null; entries: Entry[] } | null>(null);
const picked = ref<Set<string>>(new Set());
async function go(path?: string): Promise<void> {
  try {
    folder.value = await api.get(`/files${path ? `?path=${encodeURIComponent(path)}` : ''}`);
    picked.value = new Set();
  } catch (e) {
    store.show(e);
  }
}
watch(open, (now) => now && void go());
const toggle = (path: string) => (picked.value.has(path) ? picked.value.delete(path) : picked.value.add(path));
async function take(): Promise<void> {
  const chosen = fileEntries.value.filter((e) => picked.value.has(e.path));
  if (await store.attempt(() => intake.take(store.project!.id, chosen))) picked.value = new Set();
}
const fileEntries = computed(() => (folder.value?.path ? folder.value.entries.filter((e) => !e.folder) : []));
const pickAll = () =>
  (picked.value =
    picked.value.size === fileEntries.value.length ? new Set() : new Set(fileEntries.value.map((e) => e.path)));
const parent = (path: string) => path.replace(/\/[^/]+\/?$/, '') || '/';
</script>

<template>
  <el-drawer v-model="open" :modal="false" modal-penetrable title="Import files" size="440px">
    <p v-if="!store.project?.reference" class="state warn wrap">
      No coordinate system is set yet. Files can be imported; the reference line then proposes a system from what they
      say.
    </p>
    <div>
      <div
        class="drop"
        :class="{ over }"
        role="button"
        tabindex="0"
        @click="picker?.click()"
        @keydown.enter="picker?.click()"
        @dragover.prevent="over = true"
        @dragleave="over = false"
        @drop.prevent="((over = false), send($event.dataTransfer!.files))"
      >
        <Icon name="upload" /> Drop files here, or choose them
        <input ref="picker" type="file" multiple hidden @change="(send(picker!.files!), (picker!.value = ''))" />
      </div>
      <details class="formats">
        <summary>What can be imported</summary>
        <FactList>
          <Fact v-for="f in READ_FORMATS" :key="f.name" :label="f.name"
            ><span class="soft">{{ f.holds }}</span></Fact
          >
        </FactList>
        <p class="soft">Files are recognised by their content, not by their name.</p>
      </details>
      <IncomingFile v-for="f in files" :key="f.key" :file="f" />
      <el-button v-if="files.length" link @click="intake.clear(store.project!.id)">Clear this list</el-button>
      <h3>From a folder on the server</h3>
      <p v-if="folder && folder.path === null" class="soft">
        Only these folders may be read; more with <span class="mono">./start --files FOLDER</span>.
      </p>
      <p v-else-if="folder" class="mono soft">
        {{ folder.path }} <el-button link @click="go(undefined)">all folders</el-button>
        <el-button link @click="go(parent(folder.path!))">up</el-button>
      </p>
      <div v-for="e in folder?.entries ?? []" :key="e.path" class="entry">
        <PlainButton v-if="e.folder" @click="go(e.path)"><Icon name="folder" /> {{ e.name }}</PlainButton>
        <label v-else
          ><input type="checkbox" :checked="picked.has(e.path)" @change="toggle(e.path)" /> {{ e.name }}
          <span class="soft mono">{{ bytesText(e.bytes) }}</span></label
        >
      </div>
      <p v-if="folder?.path && folder.entries.length === 0" class="soft">This folder is empty.</p>
      <el-button v-if="fileEntries.length > 1" @click="pickAll">{{
        picked.size === fileEntries.length ? 'Choose none' : `Choose all ${fileEntries.length} files of this folder`
      }}</el-button>
      <el-button v-if="picked.size" type="primary" @click="take"
        >Import {{ picked.size }} {{ picked.size === 1 ? 'file' : 'files' }}</el-button
      >
    </div>
  </el-drawer>
</template>

<style scoped>
.drop {
  border: 1.5px dashed var(--line);
  border-radius: 4px;
  padding: 28px 12px;
  text-align: center;
  cursor: pointer;
  margin-bottom: 12px;
}
.drop.over,
.drop:hover {
  border-color: var(--reed);
  background: var(--reed-soft);
}
.formats {
  margin-bottom: 12px;
}
.entry {
  padding: 3px 0;
  overflow-wrap: anywhere;
}
.entry svg {
  vertical-align: -3px;
}
.wrap {
  white-space: normal;
}
</style>
