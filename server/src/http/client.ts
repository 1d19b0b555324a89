import { AsyncLocalStorage } from 'node:async_hooks';
import type { RequestHandler } from 'express';

const clients = new AsyncLocalStorage<string>();

/** Remembers who has sent a request while it is answered: the address that Express takes for the client's. */
export const asClient: RequestHandler = (req, _res, next) => clients.run(req.ip ?? '', next);

/** The address of the client that is being answered; empty for what the server does by itself. */
export const clientNow = (): string => clients.getStore() ?? '';
