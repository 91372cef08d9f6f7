/** What a new project begins with: six lines that already move. */
export const NEW_MODEL = `model New model
space Field: plane 100 by 100, wrapping
agent Vole
  start 200 anywhere
  behaviour roam
    move by 1
`;
