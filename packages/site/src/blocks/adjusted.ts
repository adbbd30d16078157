import { type Block, type BlockCamera, type GivenPlace } from '@longheron/core/photo';
import { type BlockPlan, BLOCK_PLAN, type TrueBlock } from './flown';

/** A drawn block as an adjustment is given it. */
export function blockOf(t: TrueBlock, change: Partial<BlockPlan> = {}): Block {
  const plan = { ...BLOCK_PLAN, ...change };
  const camera: BlockCamera = {
    name: 'air',
    camera: {
      widthPx: t.widthPx,
      heightPx: t.heightPx,
      focalPx: t.nominal.f,
      cxPx: t.nominal.cx,
      cyPx: t.nominal.cy,
      k1: 0,
      k2: 0,
      k3: 0,
      p1: 0,
      p2: 0,
    },
    sd: { focalPx: 0.05 * t.nominal.f, cxPx: 12, cyPx: 12, k1: 0.1, k2: 0.05, k3: 0.05, p1: 0.01, p2: 0.01 },
  };
  const sdM: GivenPlace['sdM'] = [plan.planSdM, plan.planSdM, plan.heightSdM];
  return {
    cameras: [camera],
    images: t.pictures.map((p, i) => ({
      name: p.name,
      camera: 0,
      centreM: t.places[i],
      rotation: t.startAxes[i],
      given: Number.isNaN(t.places[i][0]) ? undefined : { placeM: t.places[i], sdM },
    })),
    points: t.points.map((p, i) => ({
      name: p.name,
      kind: p.kind,
      givenM: t.given[i],
      sdM: t.given[i] && [plan.controlSdM, plan.controlSdM, plan.controlSdM],
    })),
    rays: {
      count: t.seen.length,
      image: Int32Array.from(t.seen, (s) => s.image),
      point: Int32Array.from(t.seen, (s) => s.point),
      uPx: Float64Array.from(t.seen, (s) => s.u),
      vPx: Float64Array.from(t.seen, (s) => s.v),
      sdPx: new Float64Array(t.seen.length).fill(plan.sdPx),
    },
    distances: [],
  };
}
