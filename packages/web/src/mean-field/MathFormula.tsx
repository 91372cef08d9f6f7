import type { Equation, MathNode } from '@vole/core';
import { mathOfEquation } from '@vole/core';
import type { ReactNode } from 'react';
import { createElement } from 'react';

/** An equation set in type. */
export function MathEquation({ equation }: { readonly equation: Equation }) {
  return <MathFormula node={mathOfEquation(equation)} />;
}

/** A formula set in type. */
export function MathFormula({ node }: { readonly node: MathNode }) {
  return (
    <div className="overflow-x-auto py-1">
      {createElement('math', { displaystyle: 'true', className: 'text-[15px]' }, element(node))}
    </div>
  );
}

function element({ tag, children }: MathNode): ReactNode {
  return createElement(
    tag,
    tag === 'mo' ? { stretchy: 'false' } : null,
    ...children.map((child) => (typeof child === 'string' ? child : element(child))),
  );
}
