import { type ProblemDto } from '@longheron/contract/api';

/** An answer of the server that says what went wrong and what to do. */
export class ApiError extends Error {
  constructor(
    readonly status: number,
    readonly problem: ProblemDto,
  ) {
    super([problem.title, problem.remedy].filter(Boolean).join(' '));
  }
}

async function request<T>(method: string, path: string, body?: unknown): Promise<T> {
  let response: Response;
  try {
    response = await fetch(`/api${path}`, {
      method,
      headers: body === undefined ? {} : { 'Content-Type': 'application/json' },
      body: body === undefined ? undefined : JSON.stringify(body),
    });
  } catch {
    throw new ApiError(0, {
      type: '',
      title: 'The server does not answer.',
      status: 0,
      code: 'offline',
      remedy: 'Check that it is still running, then try again.',
    });
  }
  if (!response.ok) {
    const problem = (await response.json().catch(() => ({
      title: `The server answered ${response.status}.`,
      status: response.status,
      code: 'http',
      type: '',
    }))) as ProblemDto;
    throw new ApiError(response.status, problem);
  }
  if (response.status === 204) return undefined as T;
  return (await response.json()) as T;
}

export const api = {
  get: <T>(path: string) => request<T>('GET', path),
  post: <T>(path: string, body?: unknown) => request<T>('POST', path, body ?? {}),
  del: (path: string) => request<void>('DELETE', path),
  put: <T>(path: string, body: unknown) => request<T>('PUT', path, body),
  patch: <T>(path: string, body: unknown) => request<T>('PATCH', path, body),
};

/** Puts something that must still arrive although the page is being left. */
export function sendBeforeLeaving(path: string, body: unknown): void {
  void fetch(`/api${path}`, {
    method: 'PUT',
    keepalive: true,
    body: JSON.stringify(body),
    headers: { 'Content-Type': 'application/json' },
  }).catch(() => undefined);
}

const jsonObjects = new Map<string, Promise<unknown>>();

/** A stored JSON object by its hash; kept, since it never changes. */
export function objectJson<T>(sha: string): Promise<T> {
  let found = jsonObjects.get(sha);
  if (!found) {
    found = api.get<T>(`/objects/${sha}?type=application/json`);
    found.catch(() => jsonObjects.delete(sha));
    jsonObjects.set(sha, found);
  }
  return found as Promise<T>;
}

/** Bytes [from, to) of a stored object. */
export async function objectRange(sha: string, from: number, to: number, signal?: AbortSignal): Promise<ArrayBuffer> {
  // each part has an address of its own: browsers' caches hand out short pieces when many parts of one are asked for at once
  const response = await fetch(`/api/objects/${sha}?part=${from}-${to}`, { signal });
  if (!response.ok) throw new Error(`The server answered ${response.status} to a part of the cloud.`);
  const bytes = await response.arrayBuffer();
  if (bytes.byteLength !== to - from) throw new Error('A part of the cloud arrived incomplete; it is asked for again.');
  return bytes;
}
