// Finds and describes features of pictures on a thread of its own; answers each picture by the features found in it.
import { createRequire } from 'node:module';
import { parentPort } from 'node:worker_threads';

const loaded = createRequire(import.meta.url)('@techstark/opencv-js');
const cv = loaded instanceof Promise ? await loaded : loaded;
if (!cv.Mat) await new Promise((resolve) => (cv.onRuntimeInitialized = resolve));

/** How clearly a place must stand out; of meadows and other dull ground more is taken. */
const THRESHOLDS = [1e-4, 2e-5];
const ENOUGH = 1500;

/** Features of a grey picture, descriptions in whole words of 32 bits. */
function find({ grey, widthPx, heightPx }) {
  const made = [];
  const keep = (thing) => (made.push(thing), thing);
  try {
    const picture = keep(new cv.Mat(heightPx, widthPx, cv.CV_8UC1));
    picture.data.set(grey);
    const finder = keep(new cv.AKAZE());
    const points = keep(new cv.KeyPointVector());
    const described = keep(new cv.Mat());
    const everywhere = keep(new cv.Mat());
    for (const threshold of THRESHOLDS) {
      finder.setThreshold(threshold);
      finder.detectAndCompute(picture, everywhere, points, described);
      if (points.size() >= ENOUGH) break;
    }
    const count = points.size();
    const bytes = described.cols;
    const wordsEach = Math.ceil(bytes / 4);
    const out = {
      count,
      uPx: new Float64Array(count),
      vPx: new Float64Array(count),
      strength: new Float32Array(count),
      words: new Uint32Array(count * wordsEach),
      wordsEach,
    };
    const target = new Uint8Array(out.words.buffer);
    for (let i = 0; i < count; i++) {
      const { pt, response } = points.get(i);
      out.uPx[i] = pt.x;
      out.vPx[i] = pt.y;
      out.strength[i] = response;
      target.set(described.data.subarray(i * bytes, (i + 1) * bytes), i * 4 * wordsEach);
    }
    return out;
  } finally {
    for (const thing of made) thing.delete();
  }
}

parentPort.on('message', ({ id, picture }) => {
  try {
    const found = find(picture);
    const lists = [found.uPx.buffer, found.vPx.buffer, found.strength.buffer, found.words.buffer];
    parentPort.postMessage({ id, found }, lists);
  } catch (error) {
    parentPort.postMessage({ id, error: String(error?.message ?? error).slice(0, 300) });
  }
});
