import { vi } from 'vitest';

interface Asked {
  method: string;
  path: string;
  body: unknown;
}
type Answer = unknown | ((asked: Asked) => unknown);

/** A server for tests: answers by method and path, and remembers what it was asked. */
export class FakeServer {
  readonly asked: Asked[] = [];
  private readonly answers = new Map<string, Answer>();
  /** Paths that are refused, with the problem as the server words it. */
  readonly refused = new Map<string, { title: string; remedy?: string; status?: number }>();
  offline = false;

  constructor() {
    vi.stubGlobal('fetch', async (url: string, init: { method?: string; body?: string } = {}) => {
      const asked: Asked = {
        method: init.method ?? 'GET',
        path: url.replace(/^\/api/, ''),
        body: init.body === undefined ? undefined : JSON.parse(init.body),
      };
      if (this.offline) throw new TypeError('offline');
      this.asked.push(asked);
      const key = `${asked.method} ${asked.path}`;
      const problem = this.refused.get(key);
      if (problem) return Response.json({ code: 'x', ...problem }, { status: problem.status ?? 422 });
      const answer = this.answers.get(key);
      const value = typeof answer === 'function' ? (answer as (asked: Asked) => unknown)(asked) : answer;
      return value === undefined ? new Response(null, { status: 204 }) : Response.json(value);
    });
    vi.stubGlobal('BroadcastChannel', Silent);
    vi.stubGlobal('EventSource', Silent);
  }

  on(key: string, answer: Answer): this {
    this.answers.set(key, answer);
    return this;
  }

  /** What was sent with a method to a path, in order. */
  sent(method: string, path: string): unknown[] {
    return this.asked.filter((a) => a.method === method && a.path === path).map((a) => a.body);
  }
}

/** Stands for channels and streams of events: heard by nobody. */
class Silent {
  onmessage: unknown;
  onopen: unknown;
  postMessage(): void {}
  close(): void {}
}
