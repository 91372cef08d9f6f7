import { createContext } from 'react';
import type { Provenance } from '@vole/core';

/** What the numbers of a view are of: said in every file that is taken from it. */
export const TakenOf = createContext<Provenance | undefined>(undefined);
