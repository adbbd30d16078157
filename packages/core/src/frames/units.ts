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
