import { type SiteContent } from '@longheron/contract/kinds';
import declaration from '@longheron/contract/operations/ground-system';
import { planFactor } from '@longheron/core/frames';
import { Problem } from '@longheron/core/shared';
import { modelOfSystem, parseSystem } from '@longheron/formats/crs';
import { computation } from '../computation/types';
import { ReportBuilder } from '../shared/report';
import { keepSystem } from '../shared/systems';
import { systemChapter } from '../shared/systems/chapter';
import { crsFrom } from '../shared/words';

/** A system whose lengths around a point are those on the ground. */
export default computation(
  declaration,
  async (_inputs, settings, context, out) => {
    const crs = crsFrom(context);
    const { name, heightM } = settings;
    // refused without them
    const [eastingM, northingM] = [settings.eastingM!, settings.northingM!];
    const { localEastM = eastingM, localNorthM = northingM } = settings;
    const base = modelOfSystem(crs);
    const factor = planFactor(parseSystem(crs), [eastingM, northingM, heightM]);
    if (base.plan?.site || !(factor > 0.9 && factor < 1.1))
      throw new Problem(
        base.plan?.site
          ? `${base.name} is a local system already.`
          : `The point ${eastingM}, ${northingM} lies nowhere in ${base.name}.`,
        { code: 'ground-point', remedy: 'Choose the projection, and a point of the site in it.' },
      );
    const similarity = {
      fromM: [eastingM, northingM] as const,
      toM: [localEastM, localNorthM] as const,
      scale: 1 / factor,
      turnRad: 0,
    };
    const ppm = (1 / factor - 1) * 1e6;
    const site: SiteContent = {
      name,
      kind: 'ground',
      marks: [],
      facts: [
        ['On', crs],
        ['Point in the projection', `${eastingM.toFixed(3)}, ${northingM.toFixed(3)}, height ${heightM.toFixed(2)} m`],
        ['Point in the ground system', `${localEastM.toFixed(3)}, ${localNorthM.toFixed(3)} m`],
        ['Scale against the projection', `${(1 / factor).toFixed(9)}, ${ppm.toFixed(2)} ppm`],
        ['1 km on the ground is in the projection', `${(1000 * factor).toFixed(4)} m`],
      ],
    };
    const builder = new ReportBuilder('ground-system', { ...settings });
    return {
      ...(await keepSystem({ ...base, name, plan: { ...base.plan!, site: { name, similarity } } }, site, out)),
      report: builder.finish(crs, { name, factor, scale: 1 / factor }),
      log: [`${name}: 1 km on the ground is ${(1000 * factor).toFixed(4)} m in the projection.`],
    };
  },
  { chapter: systemChapter },
);
