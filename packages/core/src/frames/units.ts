/** Lengths. A foot is never just "a foot": the international and the US survey foot differ by 2 parts in a million. */
export type LengthUnit = 'metre' | 'foot' | 'usSurveyFoot';

export const METRES_PER: Record<LengthUnit, number> = {
  metre: 1,
  foot: 0.3048,
  usSurveyFoot: 1200 / 3937,
};

export const UNIT_SYMBOL: Record<LengthUnit, string> = { metre: 'm', foot: 'ft', usSurveyFoot: 'ftUS' };
export const UNIT_NAME: Record<LengthUnit, string> = {
  metre: 'metre',
  foot: 'foot (international, 0.3048 m)',
  usSurveyFoot: 'US survey foot (1200/3937 m)',
};

export function toMetres(value: number, unit: LengthUnit): number {
  return value * METRES_PER[unit];
}

export function fromMetres(valueM: number, unit: LengthUnit): number {
  return valueM / METRES_PER[unit];
}

/** The unit whose length in metres is closest to `metresPerUnit`, within 1e-9 relative; undefined when none is. */
export function unitOfFactor(metresPerUnit: number): LengthUnit | undefined {
  for (const unit of ['metre', 'foot', 'usSurveyFoot'] as const)
    if (Math.abs(metresPerUnit / METRES_PER[unit] - 1) < 1e-7) return unit;
  return undefined;
}

const NUMBER = String.raw`[-−]?\d+(?:\.\d+)?`;
/** One length, or several that share their unit: `3.1 cm`, `0.5 to 2 m`, `20 by 30 m`. */
const LENGTHS = new RegExp(
  String.raw`(?<![\w.,:])(${NUMBER}(?: (?:to|by|and|or) ${NUMBER})*) (mm|cm|m²|m)(?![\w²³/])`,
  'g',
);
const METRES = { mm: 0.001, cm: 0.01, m: 1, 'm²': 1 };

/**
 * A sentence whose lengths are metric, in the unit of a project: each length and area is carried over and keeps at
 * least the resolution it was written with. Kilometres stay. @param text as computations write it.
 */
export function sentenceIn(text: string, unit: LengthUnit): string {
  if (unit === 'metre') return text;
  return text.replace(LENGTHS, (_, numbers: string, metric: keyof typeof METRES) => {
    const square = metric === 'm²';
    const factor = square ? METRES_PER[unit] ** -2 : METRES[metric] / METRES_PER[unit];
    const carried = numbers.replace(new RegExp(NUMBER, 'g'), (n) => {
      const step = factor * 10 ** -(n.split('.')[1]?.length ?? 0);
      const digits = Math.max(0, Math.ceil(-Math.log10(step) - 1e-9));
      const value = factor * Number(n.replace('−', '-'));
      return value.toFixed(digits).replace('-', n.startsWith('−') ? '−' : '-');
    });
    return `${carried} ${UNIT_SYMBOL[unit]}${square ? '²' : ''}`;
  });
}
