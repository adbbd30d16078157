import { heightAbove, type GroundGrid } from '../finders/aboveGround';
import { type EchoKind, type SelectionFilter } from './types';

/** Which of its beam's echoes a point is. */
export function echoKind(echo: number, echoes: number): EchoKind {
  if (echoes <= 1) return 'single';
  return echo <= 1 ? 'first' : echo >= echoes ? 'last' : 'between';
}

/** Which points count by their attributes and their height above ground, whatever they are selected by. */
export class PointFilter {
  private readonly shown = new Uint8Array(256).fill(1);
  private readonly strips: Set<number> | undefined;
  private readonly echoes: Set<EchoKind> | undefined;

  /**
   * @param ground heights that `filter.above` names, about the cloud's origin. @param zeroM height of that origin.
   */
  constructor(
    private readonly filter: SelectionFilter,
    private readonly ground?: GroundGrid,
    private readonly zeroM = 0,
  ) {
    for (const c of filter.hiddenClasses) this.shown[c] = 0;
    if (filter.strips) this.strips = new Set(filter.strips);
    if (filter.echoes) this.echoes = new Set(filter.echoes);
  }

  /** Whether attributes other than class and rejection must be looked at. */
  get needsAttributes(): boolean {
    const { time, intensity, sdMostM } = this.filter;
    return !!time || !!intensity || !!this.strips || !!this.echoes || sdMostM !== undefined;
  }

  /** Whether places must be looked at. */
  get needsPlace(): boolean {
    return !!this.filter.above || !!this.filter.heightM;
  }

  /** Whether a point counts by its class and rejection. */
  passes(cls: number, rejected: boolean): boolean {
    const { rejected: wanted } = this.filter;
    return this.shown[cls] === 1 && (wanted === 'shown' || rejected === (wanted === 'only'));
  }

  /** Whether it counts by what else is known of it. @param sdM 1 SD of its height, 0 where nothing is stated. */
  passesAttributes(gpsS: number, strip: number, intensity: number, echo: number, echoes: number, sdM: number): boolean {
    const { time, intensity: range, sdMostM } = this.filter;
    if (time && !(gpsS >= time[0] && gpsS <= time[1])) return false;
    if (this.strips && !this.strips.has(strip)) return false;
    if (this.echoes && !this.echoes.has(echoKind(echo, echoes))) return false;
    if (sdMostM !== undefined && !(sdM <= sdMostM)) return false;
    return !range || (intensity >= range[0] && intensity <= range[1]);
  }

  /** Whether it counts by its height, and above ground; metres about the cloud's origin. Without ground below it does not. */
  passesPlace(x: number, y: number, z: number): boolean {
    const { above, heightM } = this.filter;
    if (heightM && !(z + this.zeroM >= heightM[0] && z + this.zeroM <= heightM[1])) return false;
    if (!above) return true;
    if (!this.ground) return false;
    const h = heightAbove(this.ground, x, y, z);
    return h >= above.rangeM[0] && h <= above.rangeM[1];
  }
}
