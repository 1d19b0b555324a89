import { equal } from '@gable/core';
import { ROUTES, type Route } from '@gable/contract/routes';
import express, { type Express } from 'express';

const patternOf = (path: string): RegExp => new RegExp(`^${path.replace(/\{\w+\}/g, '[^/]+')}$`);
const PATTERNS = ROUTES.map((route) => ({ route, pattern: patternOf(route.path) }));

/** Of several that fit, the one with the fewest parameters. */
function routeOf(method: string, path: string): Route | undefined {
  const parameters = (r: Route): number => r.path.split('{').length;
  return PATTERNS.filter(({ route, pattern }) => route.method === method.toLowerCase() && pattern.test(path))
    .map(({ route }) => route)
    .sort((a, b) => parameters(a) - parameters(b))[0];
}

/** Every answer in JSON must be what the contract says, with nothing beside it: other answers fail the test that asked. */
export function heldToContract(app: Express): Express {
  const outer = express();
  outer.use('/api', (req, res, next) => {
    const json = res.json.bind(res);
    res.json = (body: unknown) => {
      if (res.statusCode >= 400) return json(body);
      const path = req.originalUrl.replace(/\?.*/, '').replace(/\/$/, '');
      const route = routeOf(req.method, path);
      if (!route) throw new Error(`The contract has no ${req.method} ${path}.`);
      if (route.answer.status !== res.statusCode) throw new Error(`${path} is answered with ${res.statusCode}.`);
      if (route.answer.json) {
        const sent = JSON.parse(JSON.stringify(body)) as unknown;
        const said = route.answer.json.parse(sent);
        if (!equal(said, sent)) throw new Error(`${path}: ${JSON.stringify(sent)} is more than the contract says.`);
      }
      return json(body);
    };
    next();
  });
  outer.use(app);
  return outer;
}
