/** Formulas of enhanced geometries (ODF 1.2 Part 1 §19.171, draw:formula): numbers, `$0`, `?name`, functions. */

export interface Scope {
  modifiers: readonly number[];
  /** The value of another equation. */
  equation(name: string): number;
  /** `left`, `width`, `logheight`, … */
  value(name: string): number | undefined;
}

const FUNCTIONS: Record<string, (...a: number[]) => number> = {
  abs: Math.abs,
  sqrt: Math.sqrt,
  sin: Math.sin,
  cos: Math.cos,
  tan: Math.tan,
  atan: Math.atan,
  atan2: (y, x) => Math.atan2(y!, x!),
  min: Math.min,
  max: Math.max,
  if: (c, a, b) => (c! > 0 ? a! : b!),
};

/** @throws SyntaxError for a formula that is none */
export function evaluate(formula: string, scope: Scope): number {
  const tokens = formula.match(/\d*\.?\d+(?:[eE][-+]?\d+)?|[$?]\w+|[A-Za-z]\w*|[-+*/(),]/g) ?? [];
  let at = 0;
  const take = (what?: string): string => {
    const t = tokens[at++];
    if (t === undefined || (what !== undefined && t !== what)) throw new SyntaxError(`“${formula}” is no formula.`);
    return t;
  };
  const sum = (): number => {
    let v = product();
    while (tokens[at] === '+' || tokens[at] === '-') v = take() === '+' ? v + product() : v - product();
    return v;
  };
  const product = (): number => {
    let v = factor();
    while (tokens[at] === '*' || tokens[at] === '/') v = take() === '*' ? v * factor() : v / factor();
    return v;
  };
  const factor = (): number => {
    const t = take();
    if (t === '-') return -factor();
    if (t === '+') return factor();
    if (t === '(') {
      const v = sum();
      take(')');
      return v;
    }
    if (t.startsWith('$')) return scope.modifiers[Number(t.slice(1))] ?? 0;
    if (t.startsWith('?')) return scope.equation(t.slice(1));
    if (/^[\d.]/.test(t)) return Number(t);
    if (t === 'pi') return Math.PI;
    const f = FUNCTIONS[t];
    if (!f || tokens[at] !== '(') {
      const v = scope.value(t);
      if (v === undefined) throw new SyntaxError(`“${formula}” names “${t}”, which is unknown.`);
      return v;
    }
    take('(');
    const args = [sum()];
    while (tokens[at] === ',') {
      take();
      args.push(sum());
    }
    take(')');
    return f(...args);
  };
  const v = sum();
  if (at !== tokens.length) throw new SyntaxError(`“${formula}” is no formula.`);
  return v;
}
