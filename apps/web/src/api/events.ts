export interface Change {
  what: string;
  id: number;
  progress?: number;
  doing?: string;
  secondsLeft?: number | null;
}

/**
 * Hears of changes in a project. Browsers keep few connections to a host, so of all tabs one holds the event stream and
 * passes on what it hears; when it closes, the next takes over.
 * @param opened called whenever the stream is open anew: something may have been missed.
 * @returns a function that stops listening.
 */
export function listen(projectId: number, heard: (change: Change) => void, opened: () => void): () => void {
  const name = `longheron-events-${projectId}`;
  const channel = new BroadcastChannel(name);
  channel.onmessage = (message: MessageEvent<Change | 'open'>) =>
    message.data === 'open' ? opened() : heard(message.data);
  let source: EventSource | undefined;
  let release: (() => void) | undefined;
  let stopped = false;
  const hold = () => {
    if (stopped) return Promise.resolve();
    source = new EventSource(`/api/projects/${projectId}/events`);
    source.onmessage = (message) => {
      const change = JSON.parse(String(message.data)) as Change;
      channel.postMessage(change);
      heard(change);
    };
    source.onopen = () => {
      channel.postMessage('open');
      opened();
    };
    return new Promise<void>((resolve) => (release = resolve));
  };
  if (navigator.locks) {
    const abort = new AbortController();
    navigator.locks.request(name, { signal: abort.signal }, hold).catch(() => undefined);
    release = () => abort.abort();
  } else void hold();
  return () => {
    stopped = true;
    source?.close();
    release?.();
    channel.close();
  };
}
