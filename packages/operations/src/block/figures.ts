import {
  type BlockCameraFigures,
  type BlockFigures,
  type BlockMark,
  type TieFigures,
} from '@longheron/contract/kinds/block';
import { type Mark } from '@longheron/core/accuracy';
import { CAMERA_TERMS, residualsOverPicture, type AdjustedBlock, type Block, type Camera } from '@longheron/core/photo';
import { type KnownDistance } from '@longheron/formats/distances';
import { TERM_NAMES } from '@longheron/formats/cameras';
import { finite } from '../shared/words';
import { gridOf, gridSds, gridStep, type Axes } from '../shared/photographs';
import { type Outcome } from './texts';

/** Check marks beyond so many deviations are flagged and left out of the statistics. */
const FLAGGED = 3.5;

/** All figures of an adjusted block. */
export function figuresOf(
  outcome: Outcome,
  marks: ReadonlyMap<number, Mark>,
  distances: readonly KnownDistance[],
  ties: TieFigures | null,
): BlockFigures {
  const { block, a, axes, leftOut } = outcome;
  const out = new Set(a.controlOut.map((c) => c.index));
  const rows = [...marks].flatMap(([p, mark]) => {
    const { kind } = block.points[p];
    return kind === 'tie' || !axes ? [] : [{ kind, row: markRow(block, a, axes, p, mark, out.has(p)) }];
  });
  const control = rows.filter((r) => r.kind === 'control').map((r) => r.row);
  const check = rows.filter((r) => r.kind === 'check').map((r) => r.row);
  const kept = check.filter((c) => !c.flagged);
  const rms = (list: readonly BlockMark[], key: 'de_m' | 'dn_m' | 'dh_m') => {
    const known = list.flatMap((c) => c[key] ?? []);
    return known.length ? Math.sqrt(known.reduce((s, v) => s + v * v, 0) / known.length) : null;
  };
  const used = control.filter((c) => !c.flagged);
  const parts = (['de_m', 'dn_m', 'dh_m'] as const).map((key) => rms(used, key));
  const name = (r: number) => ({
    image: block.images[block.rays.image[r]].name,
    point: block.points[block.rays.point[r]].name,
  });
  const isTie = (r: number) => block.rays.group?.[r] === 1;
  let rays = 0;
  for (const v of a.alive) rays += v;
  const known = new Set<number>();
  for (let r = 0; r < block.rays.count; r++) if (a.alive[r]) known.add(block.rays.point[r]);
  return {
    frame: axes ? 'earth' : 'local',
    sigma0: finite(a.sigma0),
    sigma0_ties: finite(a.sigmaFree),
    redundancy: a.redundancy,
    pick_sd_factor: a.rayScales[0] ?? 1,
    tie_sd_factor: a.rayScales[1] ?? 1,
    ties,
    images: block.images.length + leftOut.length,
    oriented: a.oriented.filter(Boolean).length,
    rays,
    points: known.size,
    control_rmse_m: parts[0] === null ? null : Math.hypot(...parts.map((v) => v ?? 0)),
    control,
    check,
    check_rmse_e_m: rms(kept, 'de_m'),
    check_rmse_n_m: rms(kept, 'dn_m'),
    check_rmse_h_m: rms(kept, 'dh_m'),
    check_all_rmse_e_m: rms(check, 'de_m'),
    check_all_rmse_n_m: rms(check, 'dn_m'),
    check_all_rmse_h_m: rms(check, 'dh_m'),
    cameras: Object.fromEntries(block.cameras.map((c, k) => [c.name, cameraFigures(block, a, k)])),
    held: a.held.map((h) => ({
      camera: block.cameras[h.camera].name,
      term: TERM_NAMES[h.term].replace('_px', ''),
      reason: h.reason,
    })),
    rejected: a.rejected.map(({ ray, test }) => ({
      ...name(ray),
      residual_px: Math.hypot(a.residualPx[2 * ray], a.residualPx[2 * ray + 1]),
      test,
      tie: isTie(ray),
    })),
    picks_rejected: a.rejected.filter(({ ray }) => !isTie(ray)).length,
    ties_rejected: a.rejected.filter(({ ray }) => isTie(ray)).length,
    places_out: axes
      ? [
          ...a.placesOut.map(({ index, offM, test }) => ({ image: block.images[index].name, offM, test })),
          ...outcome.astray.map(({ name: image, foundM, saidM, test }) => ({
            image,
            offM: saidM.map((v, k) => v - foundM[k]),
            test,
          })),
        ]
          .sort((p, q) => q.test - p.test)
          .map(({ image, offM, test }) => {
            const [e, n, h] = gridStep(axes, offM);
            return { image, de_m: -e, dn_m: -n, dh_m: -h, test };
          })
      : [],
    left_out: [
      ...leftOut.map((image) => ({ image, reason: 'its points are seen in too few other photographs' })),
      ...block.images
        .filter((_, i) => !a.oriented[i])
        .map((i) => ({ image: i.name, reason: 'too few of its picks fit' })),
    ],
    distances: distances.map((d, k) => {
      const { foundM, sdM } = a.distances[k];
      const known = Number.isFinite(foundM) && Number.isFinite(sdM);
      return {
        from: d.from,
        to: d.to,
        given_m: d.valueM,
        found_m: finite(foundM),
        sd_m: finite(sdM),
        use: d.use,
        ...(d.note ? { note: d.note } : {}),
        given: d.given,
        unit: d.unit,
        agrees: known && d.use === 'check' ? Math.abs(foundM - d.valueM) <= 2 * Math.hypot(sdM, d.sdM) : null,
      };
    }),
    shifts: axes ? shiftsOf(outcome, axes) : [],
  };
}

/** What positions of each session's photographs are off alike: given less found. */
function shiftsOf({ block, a, shiftNames }: Outcome, axes: Axes): BlockFigures['shifts'] {
  const sessions = new Set(block.images.flatMap((i) => i.given?.session ?? []));
  return [...sessions].map((k) => {
    const [e, n, h] = gridStep(axes, a.state.shifts.subarray(3 * k, 3 * k + 3));
    const at = a.shiftAt[k];
    const upper = [0, 1, 2].flatMap((i) => [0, 1, 2].slice(i).map((j) => a.covariances.of(at + i, at + j)));
    const [sdE, sdN, sdH] = gridSds(axes, upper);
    return { session: shiftNames[k], de_m: e, dn_m: n, dh_m: h, sd_e_m: sdE, sd_n_m: sdN, sd_h_m: sdH };
  });
}

function markRow(block: Block, a: AdjustedBlock, axes: Axes, p: number, mark: Mark, left: boolean): BlockMark {
  const c = a.covariances.point(p);
  let rays = 0;
  for (let r = 0; r < block.rays.count; r++) if (a.alive[r] && block.rays.point[r] === p) rays++;
  if (!c || rays < 2)
    return {
      name: mark.name,
      rays,
      de_m: null,
      dn_m: null,
      dh_m: null,
      sd_e_m: null,
      sd_n_m: null,
      sd_h_m: null,
      flagged: left,
    };
  const found = gridOf(axes, a.state.points.subarray(3 * p, 3 * p + 3));
  const off = [found[0] - mark.eastingM, found[1] - mark.northingM, found[2] - mark.heightM];
  const own = gridSds(axes, c);
  const given = block.points[p].sdM!;
  const check = block.points[p].kind === 'check';
  const sd = own.map((v, k) => (check ? Math.hypot(v, given[k]) : v));
  const flagged = left || (check && off.some((v, k) => Math.abs(v) > FLAGGED * sd[k]));
  return {
    name: mark.name,
    rays,
    de_m: off[0],
    dn_m: off[1],
    dh_m: off[2],
    sd_e_m: sd[0],
    sd_n_m: sd[1],
    sd_h_m: sd[2],
    flagged,
  };
}

/** Places over a picture at which cameras are compared, along each side. */
const COMPARED = 9;

function cameraFigures(block: Block, a: AdjustedBlock, k: number): BlockCameraFigures {
  const nominal = block.cameras[k].camera;
  const now = a.state.cameras[k];
  const { sd, found, correlation } = a.cameras[k];
  const images = block.images.filter((i) => i.camera === k).length;
  if (nominal.model === 'sphere')
    return {
      model: 'sphere',
      images,
      focal_px: now.focalPx,
      nominal_focal_px: nominal.focalPx,
      focal_change_percent: 0,
      change_rms_px: 0,
      change_max_px: 0,
      terms: [],
      correlation: [],
    };
  let [sum, n, most] = [0, 0, 0];
  for (let i = 0; i < COMPARED; i++)
    for (let j = 0; j < COMPARED; j++) {
      const x = (((i + 0.5) / COMPARED - 0.5) * nominal.widthPx) / nominal.focalPx;
      const y = (((j + 0.5) / COMPARED - 0.5) * nominal.heightPx) / nominal.focalPx;
      const [p, q] = [bent(nominal, x, y), bent(now, x, y)];
      const off = Math.hypot(p[0] - q[0], p[1] - q[1]);
      sum += off * off;
      most = Math.max(most, off);
      n++;
    }
  return {
    images,
    focal_px: now.focalPx,
    nominal_focal_px: nominal.focalPx,
    focal_change_percent: 100 * (now.focalPx / nominal.focalPx - 1),
    change_rms_px: Math.sqrt(sum / n),
    change_max_px: most,
    terms: CAMERA_TERMS.map((t) => ({
      name: TERM_NAMES[t],
      nominal: nominal[t],
      value: now[t],
      sd: sd[t],
      found: found.includes(t),
    })),
    correlation,
    area: areaOf(block, a, k),
  };
}

/** Parts of a picture along its sides by which residuals are told. */
const AREA = { columns: 8, rows: 6 };

function areaOf(block: Block, a: AdjustedBlock, camera: number): BlockCameraFigures['area'] {
  const round = (v: number) => Number(v.toFixed(3));
  return {
    ...AREA,
    parts: residualsOverPicture(block, a, camera, AREA.columns, AREA.rows).map((p) => ({
      rays: p.rays,
      du_px: round(p.duPx),
      dv_px: round(p.dvPx),
      rms_px: round(p.rmsPx),
    })),
  };
}

function bent({ focalPx, cxPx, cyPx, k1, k2, k3, p1, p2 }: Camera, a: number, b: number): [number, number] {
  const q = a * a + b * b;
  const radial = 1 + q * (k1 + q * (k2 + q * k3));
  return [
    focalPx * (a * radial + 2 * p1 * a * b + p2 * (q + 2 * a * a)) + cxPx,
    focalPx * (b * radial + p1 * (q + 2 * b * b) + 2 * p2 * a * b) + cyPx,
  ];
}
