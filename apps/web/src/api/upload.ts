import * as tus from 'tus-js-client';

/** Files larger than this go in pieces, so that a broken line loses little, bytes. */
const PIECE_BYTES = 16 << 20;

export interface UploadSteps {
  onProgress?(sent: number): void;
  onError(message: string): void;
  /** @param run the job that takes it in; 0 where the server does not say. */
  onSuccess(run: number): void;
}

/** Sends a file to a project, going on where an earlier try stopped. @returns what starts it again. */
export function upload(projectId: number, file: File, steps: UploadSteps): () => void {
  const one = new tus.Upload(file, {
    endpoint: '/api/uploads',
    chunkSize: PIECE_BYTES,
    retryDelays: [0, 1000, 3000, 8000],
    removeFingerprintOnSuccess: true,
    metadata: { filename: file.name, project: String(projectId) },
    onProgress: (sent) => steps.onProgress?.(sent),
    onError: (e) => steps.onError(e.message.split(',')[0]),
    onSuccess: ({ lastResponse }) => steps.onSuccess(Number(lastResponse.getHeader('Run-Id') ?? 0)),
  });
  void one.findPreviousUploads().then((previous) => {
    if (previous.length) one.resumeFromPreviousUpload(previous[0]);
    one.start();
  });
  return () => one.start();
}

/** Sends a text as a file. */
export function uploadText(projectId: number, name: string, text: string): Promise<void> {
  return new Promise((resolve, reject) =>
    upload(projectId, new File([text], name, { type: 'text/csv' }), {
      onError: (message) => reject(new Error(message)),
      onSuccess: () => resolve(),
    }),
  );
}
