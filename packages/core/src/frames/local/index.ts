/** Local systems: plan and heights of a site against those of a projection and a geoid. */
export * from './similarity';
export * from './heightCorrection';
export * from './fitPlan';
export * from './fitHeights';
