import { readFile, writeFile } from 'node:fs/promises';
import { type BlockPicture } from '@longheron/contract/kinds/block';
import { CALIBRATED } from '@longheron/contract/operations/block';
import declaration from '@longheron/contract/operations/block';
import { adjustBlock, CAMERA_TERMS, hasStart, orientByTies, withImages, type Calibrate } from '@longheron/core/photo';
import { part, Problem } from '@longheron/core/shared';
import { parseSystem } from '@longheron/formats/crs';
import { readPhotoPositions } from '@longheron/formats/photo-set';
import { type Pick } from '@longheron/formats/picks';
import { openAs } from '@longheron/formats/registry';
import { computation } from '../computation/types';
import { ReportBuilder } from '../shared/report';
import { jsonHash } from '../shared/store';
import { centimetres, finite, frameNotices } from '../shared/words';
import { assemble } from './assemble';
import { picturesOf, UNKNOWN } from './images';
import { expectationOf } from './expected';
import { findTies, tiesIn } from './ties';
import { blockChapter } from './chapter';
import { figuresOf } from './figures';
import { noticesOf } from './notices';
import { exchangedOf, misplacedOf } from './misplaced';
import { axesOf, exifOfAll, gridOf, openPhotoSets, posesOf } from '../shared/photographs';
import { imageKey } from '@longheron/formats/picks';
import { feetOf } from './feet';
import { chosenOf, placesIn, sessionFigures, sessionsOfSets } from './sessions';
import { camerasJson, orientedCsv, pointsCsv, raysOfImages, tiesCsv, type Outcome } from './texts';

const GEODETIC = 'EPSG:4937';
/** So many of the ties that do not fit are kept for the screen, the worst. */
const KEPT_TIES = 200;

/** Photographs oriented together by picks, positions, control and distances. */
export default computation(
  declaration,
  async (
    { photos, picks: lists, cameras, positions: places, mounting, marks, distances },
    settings,
    context,
    out,
    watch,
  ) => {
    const builder = new ReportBuilder('block', settings);
    const notice = builder.notice.bind(builder);
    const system = context.crs ? parseSystem(context.crs) : undefined;
    if ((places.length || marks) && !system)
      throw new Problem('The system of positions and marks is not said.', {
        code: 'block-crs',
        remedy: 'Set the reference line of the project.',
        command: 'Give it with --crs, e.g. EPSG:25832+5773.',
      });
    const positions = [];
    for (const { path, name } of places) {
      const list = readPhotoPositions(await readFile(path), name);
      if (system) builder.notices.push(...frameNotices(list.crs, system, name));
      positions.push({ ...list, file: name });
    }
    if (marks?.crs && system && parseSystem(marks.crs).label !== system.label)
      throw new Problem(`The marks are in ${marks.crs}; the block is adjusted in ${system.label}.`, {
        code: 'crs-differs',
        file: marks.name,
        place: 'comment lines',
        remedy: 'Transform the list, or choose the marks of this system.',
      });
    const picks: Pick[] = [];
    for (const l of lists) picks.push(...(await openAs('picks', l.path, l.name)));
    const known = await openAs('cameras', cameras.path, cameras.name);
    const taped = distances ? await openAs('distances', distances.path, distances.name) : [];
    const files = {
      picks: lists.map((l) => l.name).join(', ') || photos.map((p) => p.name).join(', '),
      photos: photos.map((p) => p.name).join(', '),
      cameras: cameras.name,
      positions: places.map((p) => p.name).join(', '),
      marks: marks?.name ?? '',
      distances: distances?.name ?? '',
    };
    const opened = await openPhotoSets(photos);
    const exif = await exifOfAll(opened.photos);
    const sessions = chosenOf(sessionsOfSets(opened, exif), settings.sessions);
    const set = sessions.flatMap((s) => s.photos);
    const sessionOf = placesIn(sessions);
    const left = new Set(opened.photos.map((p) => imageKey(p.name)).filter((key) => !sessionOf.has(key)));
    const given = {
      picks: left.size ? picks.filter((p) => !left.has(imageKey(p.image))) : picks,
      photos: set.map((p) => ({ name: p.name, serial: exif.get(p)?.serial })),
      sessionOf,
      apart: settings.apart,
      cameras: known,
      positions,
      mounting: mounting?.mounting,
      marks: marks?.marks ?? [],
      distances: taped,
      files,
      pickSdPx: settings.pickSdPx,
      shift: settings.shift,
    };
    const pictured = picturesOf(given, system, notice);
    const tying = settings.ties ? tiesIn(set, pictured) : [];
    if (settings.ties && tying.length < set.length)
      notice({
        code: 'ties-panoramas',
        severity: 'info',
        file: files.photos,
        text: `Ties are not looked for in ${set.length - tying.length} full panoramas.`,
        effect: 'Only what is picked in them orients them.',
      });
    const ties =
      tying.length > 1
        ? await findTies(tying, pictured, settings.tieSdPx, notice, files, part(watch, 0, 0.6))
        : undefined;
    const own = part(watch, ties ? 0.6 : 0, 1);
    // what does not show its place is oriented like what has none; how far that place is off is said afterwards
    const lost = new Set(ties?.misplaced);
    const images = pictured.images.map((i) => (lost.has(i.name) ? { ...i, ...UNKNOWN, given: undefined } : i));
    const { block: whole, frame, markOf } = assemble(given, ties?.picks ?? [], { ...pictured, images }, system);
    const start = hasStart(whole) ? undefined : orientByTies(whole, part(own, 0.02, 0.4));
    const kept = whole.images.flatMap((_, i) => (start && !start.oriented[i] ? [] : [i]));
    const block = withImages(whole, kept).block;
    const state = start && {
      ...start.state,
      centres: Float64Array.from(kept.flatMap((i) => [...start.state.centres.subarray(3 * i, 3 * i + 3)])),
      rotations: Float64Array.from(kept.flatMap((i) => [...start.state.rotations.subarray(9 * i, 9 * i + 9)])),
    };
    const a = adjustBlock({ block, calibrate: calibrateOf(settings.calibrate), start: state }, part(own, 0.4, 0.95));
    const axes = frame && system ? axesOf(frame, system) : undefined;
    const leftOut = whole.images.filter((_, i) => !kept.includes(i)).map((i) => i.name);
    const astray = misplacedOf(
      pictured.images.filter((i) => lost.has(i.name)),
      block,
      a,
    );
    const outcome: Outcome = { block, a, axes, leftOut, astray, shiftNames: pictured.shiftNames };
    const figures = {
      ...figuresOf(outcome, markOf, taped, ties?.figures ?? null),
      ...(sessions.length ? { sessions: sessionFigures(sessions, outcome) } : {}),
    };
    builder.notices.push(...noticesOf(figures, files, exchangedOf(astray)));
    const crs = system?.label ?? '';
    const texts = {
      oriented: orientedCsv(outcome, GEODETIC),
      points: pointsCsv(outcome, crs),
      cameras: camerasJson(outcome, pictured.listed, context.projectName),
    };
    const kinds = { oriented: 'csv', points: 'csv', cameras: 'json' } as const;
    const objects: { [name: string]: string } = {};
    for (const name of ['oriented', 'points', 'cameras'] as const)
      if (out.keeps || out.wanted(name))
        objects[name] = (await out.file(name, kinds[name], (to) => writeFile(to, texts[name]))).sha256;
    if (ties && out.wanted('ties')) await out.file('ties', 'csv', (to) => writeFile(to, tiesCsv(outcome)));
    if (out.keeps) objects.poses = await out.store.bytes(posesOf(block, a), 'poses');
    const pointPx = ties ? settings.tieSdPx * figures.tie_sd_factor : settings.pickSdPx * figures.pick_sd_factor;
    const expected = out.keeps && axes ? await expectationOf(block, a, axes, pointPx, out.store) : null;
    const counts = raysOfImages(outcome);
    const feet = feetOf(outcome);
    const taken = (name: string) => {
      const at = sessionOf.get(imageKey(name));
      return { session: at?.number, order: at?.order };
    };
    const pictures = block.images.map((image, i): BlockPicture => {
      const at = a.state.centres.subarray(3 * i, 3 * i + 3);
      const [x, y] = axes ? gridOf(axes, at) : at;
      return {
        name: image.name,
        camera: block.cameras[image.camera].name,
        at: a.oriented[i] ? [x, y] : null,
        rays: counts[i].rays,
        rms_px: finite(counts[i].rms),
        foot: feet[i],
        ...taken(image.name),
      };
    });
    const worst = figures.rejected.filter((r) => r.tie).slice(0, KEPT_TIES);
    const content = {
      // thousands of ties that do not fit are of no use on a screen
      figures: { ...figures, rejected: [...figures.rejected.filter((r) => !r.tie), ...worst] },
      pictures: [
        ...pictures,
        ...leftOut.map((name) => ({ name, camera: '', at: null, rays: 0, rms_px: null, ...taken(name) })),
      ],
      oriented: objects.oriented ?? '',
      points: objects.points ?? '',
      cameras: objects.cameras ?? '',
      expected,
      ...(objects.poses ? { poses: objects.poses } : {}),
      crs,
    };
    const check = figures.check_rmse_e_m;
    return {
      content,
      hash: jsonHash(figures),
      report: builder.finish(axes ? crs : null, { ...figures }),
      log: [
        `${figures.oriented} of ${figures.images} photographs oriented by ${figures.rays} ${ties ? 'picks and ties' : 'picks'}; sigma nought ${figures.sigma0?.toFixed(3) ?? 'not known'}, ${ties ? `${figures.picks_rejected} picks and ${figures.ties_rejected} ties` : `${figures.picks_rejected} picks`} left out.`,
        ...(ties
          ? [
              `${figures.ties!.found} points found in ${figures.ties!.pairs} pairs, ${figures.ties!.used} of them used as ties.`,
            ]
          : []),
        ...(check === null
          ? []
          : [
              `Check marks: RMSE ${centimetres(check)} east, ${centimetres(figures.check_rmse_n_m!)} north, ${centimetres(figures.check_rmse_h_m!)} in height.`,
            ]),
      ],
    };
  },
  { chapter: blockChapter },
);

/** Terms as settings name them. */
function calibrateOf(text: string | null): Calibrate {
  const words = (text ?? 'auto').split(',').map((w) => w.trim());
  if (words[0] === 'auto' || words[0] === 'none') return words[0];
  return CAMERA_TERMS.filter((_, k) => words.includes(CALIBRATED[k]));
}
