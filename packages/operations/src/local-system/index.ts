import declaration from '@longheron/contract/operations/local-system';
import { computation } from '../computation/types';
import { ReportBuilder } from '../shared/report';
import { keepSystem } from '../shared/systems';
import { systemChapter } from '../shared/systems/chapter';
import { crsFrom } from '../shared/words';
import { fitSite } from './fit';

const ppm = (v: number) => `${v.toFixed(2)} ppm`;
const mm = (m: number | null) => (m === null ? 'no check' : `${(1000 * m).toFixed(1)} mm`);

/** A local system, or heights of its own, from marks that are known in both. */
export default computation(
  declaration,
  async ({ local, control }, settings, context, out) => {
    const crs = crsFrom(context);
    const builder = new ReportBuilder('local-system', { ...settings });
    const { model, site, notices } = fitSite(
      local.flatMap((l) => l.marks),
      control.flatMap((c) => c.marks),
      crs,
      settings,
    );
    notices.forEach((n) => builder.notice(n));
    const kept = await keepSystem(model, site, out);
    const { plan, heights, marks } = site;
    const lines = [
      ...(plan
        ? [
            `Plan: scale ${ppm(plan.scalePpm)}, turn ${plan.turnSec.toFixed(3)}″, deviation of a coordinate ${mm(plan.sdM)}.`,
          ]
        : []),
      ...(heights
        ? [
            `Heights: ${heights.offsetM.toFixed(4)} m, slopes ${heights.slopeNorthMmKm.toFixed(2)} and ${heights.slopeEastMmKm.toFixed(2)} mm per km to north and east, deviation ${mm(heights.sdM)}.`,
          ]
        : []),
      ...marks.map(
        (m) =>
          `${m.name}: ${[m.eM, m.nM, m.hM].map((v) => (v === null ? '–' : (1000 * v).toFixed(1))).join(', ')} mm (E, N, H)${m.says ? `; ${m.says}` : ''}`,
      ),
    ];
    return {
      ...kept,
      report: builder.finish(crs, {
        name: site.name,
        marks: marks.map((m) => ({
          name: m.name,
          e_m: m.eM,
          n_m: m.nM,
          h_m: m.hM,
          miss_plan_m: m.missPlanM,
          miss_height_m: m.missHeightM,
          says: m.says,
        })),
        plan: plan && {
          scale_ppm: plan.scalePpm,
          turn_sec: plan.turnSec,
          sd_m: plan.sdM,
          sd_scale_ppm: plan.sdScalePpm,
          sd_turn_sec: plan.sdTurnSec,
          redundancy: plan.redundancy,
        },
        heights: heights && {
          offset_m: heights.offsetM,
          slope_north_mm_km: heights.slopeNorthMmKm,
          slope_east_mm_km: heights.slopeEastMmKm,
          sd_m: heights.sdM,
          sd_offset_m: heights.sdOffsetM,
          redundancy: heights.redundancy,
        },
      }),
      log: [`${site.name} by ${marks.filter((m) => m.says !== 'left out').length} marks.`],
      lines,
    };
  },
  { chapter: systemChapter },
);
