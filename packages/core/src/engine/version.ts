/** Version of the engine: runs of the same version with the same text, parameters and seed are the same to the bit. */
export const ENGINE_VERSION = '14';
