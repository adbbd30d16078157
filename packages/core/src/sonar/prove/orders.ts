/** An order of hydrographic survey, IHO S-44 edition 6.1.0, table 1. */
export interface SurveyOrder {
  name: string;
  /** Total vertical uncertainty at 95 %: √(a² + (b·depth)²), metres. */
  a: number;
  b: number;
  /** Total horizontal uncertainty at 95 %: metres, and a share of the depth. */
  planM: number;
  planShare: number;
}

/** From the strictest to the mildest. */
export const SURVEY_ORDERS: readonly SurveyOrder[] = [
  { name: 'Exclusive Order', a: 0.15, b: 0.0075, planM: 1, planShare: 0 },
  { name: 'Special Order', a: 0.25, b: 0.0075, planM: 2, planShare: 0 },
  { name: 'Order 1a, 1b', a: 0.5, b: 0.013, planM: 5, planShare: 0.05 },
  { name: 'Order 2', a: 1, b: 0.023, planM: 20, planShare: 0.1 },
];

/** 95 % of a normal error in one dimension, and of a circular one in two, in standard deviations of one axis. */
const ONE_DIMENSION = 1.96;
const TWO_DIMENSIONS = 2.45;

/** Largest total vertical uncertainty that an order allows at a depth, 95 %, metres. @param depthM below the datum, positive. */
export const verticalLimitM = ({ a, b }: SurveyOrder, depthM: number) => Math.hypot(a, b * depthM);

/** Largest total horizontal uncertainty that an order allows at a depth, 95 %, metres. */
export const horizontalLimitM = ({ planM, planShare }: SurveyOrder, depthM: number) => planM + planShare * depthM;

/** How many soundings keep an order by what they state. */
export interface OrderCount {
  order: SurveyOrder;
  soundings: number;
  vertical: number;
  horizontal: number;
  both: number;
}

/** Counts soundings order by order. */
export class OrderCounts {
  readonly counts: OrderCount[] = SURVEY_ORDERS.map((order) => ({
    order,
    soundings: 0,
    vertical: 0,
    horizontal: 0,
    both: 0,
  }));

  /** @param sdHM, sdPlanM 1 SD of height, and of one horizontal axis. */
  add(depthM: number, sdHM: number, sdPlanM: number): void {
    const d = Math.max(0, depthM);
    for (const c of this.counts) {
      const vertical = ONE_DIMENSION * sdHM <= verticalLimitM(c.order, d);
      const horizontal = TWO_DIMENSIONS * sdPlanM <= horizontalLimitM(c.order, d);
      c.soundings++;
      if (vertical) c.vertical++;
      if (horizontal) c.horizontal++;
      if (vertical && horizontal) c.both++;
    }
  }
}
