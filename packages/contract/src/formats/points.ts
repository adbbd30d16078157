/** Ways in which a format writes points; none when it writes none. */
export const pointsOf = <A extends object>(about: A) =>
  // absent and empty are alike to what is spread of it
  ('points' in about ? about.points : {}) as A extends { points: infer P } ? P : object;
