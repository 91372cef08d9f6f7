/** Voles in a pen, quick to run: a model for tests of bundles and of what is told of them. */
export const PEN_MODEL = `model Pen
  Voles that eat now and then.
clock
  step 1 day
  end after 6 days
parameter bite = 20 %, from 0 to 1
agent Vole
  start 5
  has eaten = 0
  behaviour eat
    if chance(bite)
      eaten += 1
measure meals = sum of it.eaten over Vole
summary most = max of meals
`;
