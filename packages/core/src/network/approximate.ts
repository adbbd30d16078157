import { Problem } from '../shared/problem';
import { NAMES } from './covariance';
import { type NetworkObservation, type NetworkPoint, type VectorObservation } from './observations';

/**
 * First places of all points, carried along vectors from those that are held, else where they are about.
 * @throws Problem when nothing is held, a name is unknown or doubled, or a point hangs on no vector.
 */
export function approximatePlaces(points: NetworkPoint[], observations: NetworkObservation[]): Float64Array[] {
  const at = new Map(points.map((p, i) => [p.name, i]));
  if (at.size !== points.length)
    throw new Problem('Two points of the network bear the same name.', {
      code: 'network-name',
      place: points.map((p) => p.name).find((n, i, all) => all.indexOf(n) !== i),
      remedy: 'Rename one, or leave one out.',
    });
  for (const o of observations)
    for (const name of [o.from, o.to])
      if (!at.has(name))
        throw new Problem(
          `The ${NAMES[o.kind]} ${o.from} to ${o.to} names ${name}, which is no point of the network.`,
          {
            code: 'network-name',
            place: name,
            remedy: `Correct the name; there are ${points.map((p) => p.name).join(', ')}.`,
          },
        );
  for (const o of observations)
    if (o.from === o.to)
      throw new Problem(`The ${NAMES[o.kind]} from ${o.from} ends where it begins.`, {
        code: 'network-name',
        place: o.from,
        remedy: 'Correct one of the names.',
      });
  const places = points.map((p) => (p.heldM ? Float64Array.from(p.heldM) : undefined));
  if (!places.some(Boolean))
    throw new Problem('No point of the network is held.', {
      code: 'network-datum',
      remedy: 'Hold at least one with known coordinates, better two that check each other.',
    });
  const vectors = observations.filter((o): o is VectorObservation => o.kind === 'vector');
  for (let grown = true; grown;) {
    grown = false;
    for (const { from, to, deltaM } of vectors) {
      const [f, t] = [at.get(from)!, at.get(to)!];
      if (!places[f] === !places[t]) continue;
      if (places[f]) places[t] = places[f].map((v, k) => v + deltaM[k]);
      else places[f] = places[t]!.map((v, k) => v - deltaM[k]);
      grown = true;
    }
  }
  points.forEach((p, i) => {
    if (!places[i] && p.aboutM) places[i] = Float64Array.from(p.aboutM);
  });
  const loose = points.filter((_, i) => !places[i]);
  if (loose.length)
    throw new Problem(`No vector joins ${loose.map((p) => p.name).join(', ')} to a held point.`, {
      code: 'network-loose',
      place: loose.map((p) => p.name).join(', '),
      remedy: 'Add a session that joins them, or leave them out.',
    });
  return places as Float64Array[];
}
