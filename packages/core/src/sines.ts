/** Whole numbers with 128 binary places, in which the sines of degrees are found before they are rounded. */
const PLACES = 128n;
const ONE = 1n << PLACES;
/** Sine and cosine of one degree. */
const [SINE, COSINE] = [0x477c2cae2774795834d6814878796f4n, 0xfff604bfad7c4dced7400ffcbd509d41n];

/** Sines of 0 to 90 whole degrees, each the number nearest to it: a degree more at a time. */
function quarter(): number[] {
  let [sine, cosine] = [0n, ONE];
  return Array.from({ length: 91 }, () => {
    const nearest = Number(sine) / Number(ONE);
    [sine, cosine] = [(sine * COSINE + cosine * SINE) >> PLACES, (cosine * COSINE - sine * SINE) >> PLACES];
    return nearest;
  });
}

const QUARTER = quarter();

/** From 0 to 450 degrees, so that a cosine stands 90 after its sine; 0 has no sign. */
export const SINES = Float64Array.from({ length: 451 }, (_, degrees) => {
  const half = degrees % 180;
  const sine = QUARTER[half <= 90 ? half : 180 - half]!;
  return sine === 0 || degrees % 360 < 180 ? sine : -sine;
});
