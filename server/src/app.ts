import express, { type Express } from 'express';
import helmet from 'helmet';
import path from 'node:path';
import { asClient } from './http/client';
import { guard } from './http/guard';
import { jobsRouter } from './exports/router';
import { finishesRouter } from './finishes/router';
import { healthRouter } from './http/health';
import { libraryRouter } from './library/router';
import { fontsRouter } from './library/fonts-router';
import { palettesRouter } from './library/palettes-router';
import { videosRouter } from './library/videos-router';
import { silhouettesRouter } from './library/silhouettes-router';
import { openapiRouter } from './http/openapi';
import { picturesRouter } from './works/pictures-router';
import { worksRouter } from './works/router';
import type { AppContext } from './context';
import { notFound, problems } from './http/problems';

/** Assembles the server. @param web folder of the built screens, if they are to be served */
export function createApp(
  context: AppContext,
  options: {
    web?: string | undefined;
    hosts?: readonly string[];
    stopping?: AbortSignal;
    /** Proxies whose word is taken for the address of a client, as Express’s `trust proxy`. */
    proxies?: readonly string[];
  } = {},
): Express {
  const app = express();
  app.disable('x-powered-by');
  app.set('trust proxy', [...(options.proxies ?? [])]);
  app.use(
    helmet({
      contentSecurityPolicy: {
        useDefaults: false,
        directives: {
          defaultSrc: ["'self'"],
          scriptSrc: ["'self'"],
          // Styles of components are put into the page by the framework as style elements.
          styleSrc: ["'self'", "'unsafe-inline'"],
          imgSrc: ["'self'", 'blob:', 'data:'],
          mediaSrc: ["'self'", 'blob:'],
          objectSrc: ["'none'"],
          baseUri: ["'self'"],
          formAction: ["'self'"],
          frameAncestors: ["'none'"],
        },
      },
      strictTransportSecurity: false,
      // The screens and the frame of the pages come from one address and need different ones: browsers would warn.
      originAgentCluster: false,
    }),
  );
  // The pages of a document are laid out in a frame without an origin: it may load its own script and its fonts, and nothing else.
  app.use('/page', (_req, res, next) => {
    res
      .set('Cross-Origin-Resource-Policy', 'cross-origin')
      // The frame has no origin: its fonts are asked for from nowhere.
      .set('Access-Control-Allow-Origin', '*')
      .set(
        'Content-Security-Policy',
        "default-src 'none'; script-src 'self'; style-src 'unsafe-inline'; img-src data: blob:; font-src 'self' data: blob:; frame-ancestors 'self'; base-uri 'none'; form-action 'none'; sandbox allow-scripts",
      );
    next();
  });
  app.use(guard(options.hosts ?? []));
  app.use(asClient);
  app.use('/api/health', healthRouter(context.sequelize));
  app.use('/api/openapi.json', openapiRouter());
  app.use('/api', jobsRouter(context, options.stopping));
  app.use('/api/works', worksRouter(context), picturesRouter(context));
  app.use('/api/pictures', libraryRouter(context));
  app.use('/api/videos', videosRouter(context));
  app.use('/api/silhouettes', silhouettesRouter(context));
  app.use('/api/palettes', palettesRouter());
  app.use('/api/fonts', fontsRouter(context));
  app.use('/api/finishes', finishesRouter(context));
  app.use('/api', () => {
    throw notFound('address');
  });
  if (options.web) {
    const root = path.resolve(options.web);
    app.use(
      express.static(root, {
        index: false,
        setHeaders: (res, file) =>
          res.set(
            'Cache-Control',
            /-[A-Z0-9]{8}\.\w+$/.test(file) ? 'public, max-age=31536000, immutable' : 'no-cache',
          ),
      }),
    );
    app.get('/{*page}', (_req, res) => {
      res.set('Cache-Control', 'no-cache').sendFile(path.join(root, 'index.html'));
    });
  }
  app.use(problems);
  return app;
}
