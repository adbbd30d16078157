import { Problem, type Watch } from '@longheron/core/shared';
import { events, handover, join, stops } from './tasks/afterPosition';
import { agreement } from './tasks/agreement';
import { check } from './tasks/check';
import { classCheck } from './tasks/classCheck';
import { classify } from './tasks/classify';
import { compare } from './tasks/compare';
import { demoFiles, demoHead } from './tasks/demo';
import { bringEditsIn, edit, editedFile, extract, find, groundHeights, select, type EditedCloud } from './tasks/edit';
import { align, merge, reproject } from './tasks/combine';
import { coverage } from './tasks/coverage';
import { delivery } from './tasks/delivery';
import { correct } from './tasks/correct';
import { cellsOfCloud } from './tasks/looks';
import { measure } from './tasks/measure';
import { planCheck } from './tasks/planCheck';
import { exportCloud } from './tasks/exportCloud';
import { inspect, mapMarks, openCloud, preview } from './tasks/intake';
import { network } from './tasks/network';
import { place } from './tasks/place';
import { smooth } from './tasks/smooth';
import { recipe } from './tasks/recipe';
import { position } from './tasks/position';
import { writeReport, writeTrajectoryReport } from './tasks/report';
import { stationObservations } from './tasks/station';
import { surface } from './tasks/surface';
import { type TaskRequest, type TaskResult } from './tasks/types';

/** Runs one task on a worker thread. Every failure arrives as plain data, so that it can cross to the main thread. */
export async function perform(
  request: TaskRequest,
): Promise<{ result: TaskResult } | { problem: Record<string, unknown> }> {
  let last = 0;
  const watch: Watch = {
    progress(fraction, doing) {
      const now = Date.now();
      if (now - last < 200 && fraction < 1) return;
      last = now;
      request.port.postMessage({ fraction, doing: doing ?? '' });
    },
  };
  request.port.postMessage({ fraction: 0, doing: 'Starting' });
  try {
    const { edited } = request.payload as { edited?: EditedCloud };
    // what was done to a cloud by hand goes into its file before others read it
    if (edited) request.payload.las = await bringEditsIn(request.storeFolder, edited);
    return { result: await TASKS[request.task](request, watch) };
  } catch (error) {
    if (error instanceof Problem)
      return {
        problem: {
          message: error.message,
          code: error.code,
          file: error.file,
          place: error.place,
          remedy: error.remedy,
        },
      };
    return {
      problem: {
        message: 'An unexpected fault stopped the job.',
        code: 'fault',
        remedy: 'Run it again; if it fails again, send the log.',
        stack: String((error as Error)?.stack ?? error),
      },
    };
  }
}

const TASKS: Record<TaskRequest['task'], (r: TaskRequest, w: Watch) => Promise<TaskResult>> = {
  inspect,
  preview,
  'open-cloud': openCloud,
  'map-marks': mapMarks,
  place,
  position,
  classify,
  check,
  surface,
  station: stationObservations,
  compare,
  handover,
  join,
  stops,
  network,
  select,
  edit,
  'edited-file': editedFile,
  find,
  'look-cells': cellsOfCloud,
  measure,
  'ground-heights': groundHeights,
  extract,
  agreement,
  coverage,
  'class-check': classCheck,
  merge,
  reproject,
  'plan-check': planCheck,
  recipe,
  delivery,
  align,
  smooth,
  correct,
  events,
  'export-cloud': exportCloud,
  report: writeReport,
  'trajectory-report': writeTrajectoryReport,
  'demo-files': demoFiles,
  'demo-head': demoHead,
};
