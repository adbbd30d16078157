import { defineStore } from 'pinia';
import { ref } from 'vue';
import { api } from '../api/client';
import { upload } from '../api/upload';

/** A file on its way into a project. */
export interface Incoming {
  key: number;
  project: number;
  name: string;
  bytes: number;
  sent: number;
  /** Why it did not arrive; empty while it may. */
  error: string;
  /** The job that takes it in, from when it has arrived. */
  run: number | null;
  again?: () => void;
}

/** Files that were sent or picked since the page was opened; what became of each stays beside it. */
export const useIntake = defineStore('intake', () => {
  const files = ref<Incoming[]>([]);
  let count = 0;

  function add(project: number, name: string, bytes: number, more: Partial<Incoming> = {}): Incoming {
    files.value.unshift({ key: ++count, project, name, bytes, sent: 0, error: '', run: null, ...more });
    return files.value[0];
  }

  function send(project: number, list: Iterable<File>): void {
    for (const file of list) {
      const row = add(project, file.name, file.size);
      if (file.size === 0) {
        row.error = 'The file is empty. Copy it again from its origin.';
        continue;
      }
      const start = upload(project, file, {
        onProgress: (sent) => (row.sent = sent),
        onError: (message) => (row.error = `The upload stopped: ${message}. What was sent is kept.`),
        onSuccess: (run) => (row.run = run),
      });
      row.again = () => {
        row.error = '';
        start();
      };
    }
  }

  /** Files in a folder of the server. */
  async function take(project: number, picked: ReadonlyArray<{ path: string; name: string; bytes: number }>) {
    const paths = picked.map((p) => p.path);
    const { runs } = await api.post<{ runs: number[] }>(`/projects/${project}/take`, { paths });
    picked.forEach((p, k) => add(project, p.name, p.bytes, { sent: p.bytes, run: runs[k] }));
  }

  const clear = (project: number) => (files.value = files.value.filter((f) => f.project !== project));
  return { files, send, take, clear };
});
