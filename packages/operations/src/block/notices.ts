import { apartOf } from './sessions';
import { type BlockFigures } from '@longheron/contract/kinds/block';
import { type Notice } from '@longheron/core/shared';
import { some, type Given } from './images';

/** Of picks more than this share rejected is more than slips of the hand. */
const MANY = 0.1;
const MANY_TIES = 0.25;
const OFF_PERCENT = 5;

const centimetres = (...m: number[]) => {
  const size = Math.hypot(...m);
  return size < 1 ? `${(100 * size).toFixed(1)} cm` : `${size.toFixed(1)} m`;
};

/** What is noticed in an adjusted block. */
export function noticesOf(
  f: BlockFigures,
  files: Given['files'],
  exchanged: ReadonlyArray<readonly [string, string]> = [],
): Notice[] {
  const out: Notice[] = [];
  if (f.left_out.length)
    out.push({
      code: 'block-left-out',
      severity: 'warning',
      file: files.picks,
      text: `${f.left_out.length} of ${f.images} photographs could not be oriented: ${some(f.left_out.map((l) => l.image))}.`,
      effect: 'They are not used any further.',
      remedy: 'Pick more points in them that others show too, spread over the picture.',
    });
  if (exchanged.length)
    out.push({
      code: 'block-exchanged',
      severity: 'error',
      file: files.positions,
      text: `Positions are exchanged: ${some(exchanged.map(([a, b]) => `${a} was taken where ${b} is said to have been, and the other way round`))}.`,
      effect: 'Both are left out; the photographs are held by what they show.',
      remedy: 'Correct the list, and adjust again.',
    });
  if (f.places_out.length)
    out.push({
      code: 'block-places',
      severity: 'error',
      file: files.positions,
      text: `Positions that the block contradicts: ${some(f.places_out.map((p) => `${p.image} (${centimetres(p.de_m, p.dn_m, p.dh_m)})`))}.`,
      effect: 'They are left out; their photographs are held by ties.',
      remedy: 'See whether positions are exchanged between photographs, or belong to others.',
    });
  const control = f.control.filter((c) => c.flagged);
  if (control.length)
    out.push({
      code: 'block-control',
      severity: 'error',
      file: files.marks,
      text: `Control that the block contradicts: ${some(control.map((c) => (c.de_m === null ? c.name : `${c.name} (${centimetres(c.de_m, c.dn_m!, c.dh_m!)})`)))}.`,
      effect: 'It is left out of the adjustment.',
      remedy: 'Look whether it was picked on another target, or its coordinates are wrong.',
    });
  const unseen = [...f.control, ...f.check].filter((m) => m.rays < 2);
  if (unseen.length)
    out.push({
      code: 'block-unseen',
      severity: 'info',
      file: files.marks,
      text: `${unseen.length} ${unseen.length === 1 ? 'mark has' : 'marks have'} fewer than two picks that fit: ${some(unseen.map((m) => m.name))}.`,
    });
  const check = f.check.filter((c) => c.flagged);
  if (check.length)
    out.push({
      code: 'block-check',
      severity: 'warning',
      file: files.marks,
      text: `Check marks that do not fit by what block and list state: ${some(check.map((c) => `${c.name} (${centimetres(c.de_m!, c.dn_m!, c.dh_m!)})`))}.`,
      effect: 'They are left out of the statistics, and both are printed.',
      remedy: 'Look at their picks and coordinates.',
    });
  // of ties that were found by themselves a tenth is usual
  const all = f.rays + f.rejected.length;
  const [many, what] = f.ties ? [MANY_TIES, 'picks and ties'] : [MANY, 'picks'];
  if (f.rejected.length > many * all)
    out.push({
      code: 'block-many-rejected',
      severity: 'warning',
      file: files.picks,
      text: `${f.rejected.length} of ${all} ${what} do not fit the others and are left out.`,
      effect: 'Something more than single slips may be wrong.',
      remedy: 'Check that cameras and photographs belong together, and that points have one name each.',
    });
  if (f.pick_sd_factor !== 1)
    out.push({
      code: 'block-pick-sd',
      severity: 'info',
      file: files.picks,
      text: `Picks scatter ${f.pick_sd_factor.toFixed(2)} times as much as they state; deviations follow what was found.`,
    });
  for (const d of f.distances.filter((x) => x.agrees === false))
    out.push({
      code: 'block-distance-off',
      severity: 'error',
      file: files.distances,
      text: `The distance from ${d.from} to ${d.to} is off by ${centimetres(d.found_m! - d.given_m)}, with a deviation of ${centimetres(d.sd_m!)}.`,
      effect: 'The scale of the block is in doubt.',
      remedy: 'Check both distances, their units, and the picks at their ends.',
    });
  if (f.frame === 'local' && !f.distances.some((d) => d.use === 'scale'))
    out.push({
      code: 'block-no-scale',
      severity: 'warning',
      file: files.picks,
      text: 'Nothing says how large the block is: no position, no control, no known distance.',
      effect: 'Its coordinates have no unit.',
      remedy: 'Add a taped distance with the use "scale".',
    });
  const apart = apartOf(f.sessions ?? []);
  if (apart.length)
    out.push({
      code: 'block-sessions-apart',
      severity: 'warning',
      file: files.photos,
      text: `No point joins ${apart.map((s) => `session ${s.number} (${s.name})`).join(', ')} to the first one.`,
      effect: 'Each lies where its own positions and control say; where they meet they may differ.',
      remedy: 'Pick points that both show, or fly them so that they overlap.',
    });
  for (const [name, c] of Object.entries(f.cameras))
    if (Math.abs(c.focal_change_percent) > OFF_PERCENT)
      out.push({
        code: 'block-focal',
        severity: 'warning',
        file: files.cameras,
        text: `The focal length of camera "${name}" is ${c.focal_change_percent.toFixed(1)} % off what the list says.`,
        effect:
          'A few per cent are usual for a lens that was never calibrated; this much is another lens, zoom or picture size.',
        remedy: 'Check that the list belongs to this body and lens.',
      });
  return out;
}
