/** What a modeler does to a running model by hand, before a step; plain, so that it can be kept with a run and done again. */
export type HandAct =
  | { readonly is: 'set parameter'; readonly parameter: number; readonly value: number }
  /** Paints the cells in circles around places as part of a zone, or takes them out of it. */
  | {
      readonly is: 'paint';
      readonly zone: number;
      readonly places: readonly (readonly [number, number])[];
      readonly radius: number;
      readonly inside: boolean;
    }
  /** A new agent as the first start line of its kind makes them, but at a place. */
  | { readonly is: 'place'; readonly kind: number; readonly x: number; readonly y: number }
  | { readonly is: 'move'; readonly kind: number; readonly number: number; readonly x: number; readonly y: number }
  | { readonly is: 'remove'; readonly kind: number; readonly number: number }
  | {
      readonly is: 'set attribute';
      readonly kind: number;
      readonly number: number;
      readonly column: number;
      readonly value: number;
    }
  | {
      readonly is: 'set state';
      readonly kind: number;
      readonly number: number;
      readonly machine: number;
      readonly state: number;
    }
  | { readonly is: 'send'; readonly kind: number; readonly number: number; readonly message: number }
  /** Switches a line of the order off, or on again. */
  | { readonly is: 'switch'; readonly line: number; readonly on: boolean };
