/** The part of fft.js that is used here; the package brings no types. */
declare module 'fft.js' {
  export default class FFT {
    /** @param size a power of two above one */
    constructor(size: number);
    /** An array of zeros, real and imaginary parts by turns. */
    createComplexArray(): number[];
    /** Transforms real numbers; fills the first half of the output, which is all there is to know. */
    realTransform(output: number[], input: ArrayLike<number>): void;
  }
}
