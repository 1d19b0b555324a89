import { FinishSchema, FrameSchema } from '@gable/core';
import { Router } from 'express';
import { z } from 'zod';

const problem = {
  description: 'What is wrong, where, and what to do (RFC 9457)',
  content: { 'application/problem+json': { schema: { type: 'object' } } },
};
const ok = (description: string, type = 'application/json'): object => ({ description, content: { [type]: {} } });
const param = (name: string, where: 'path' | 'query', schema: object): object => ({
  name,
  in: where,
  required: where === 'path',
  schema,
});
const id = param('id', 'path', { type: 'string', format: 'uuid' });
const n = param('n', 'path', { type: 'integer', minimum: 1 });
const side = param('side', 'query', { type: 'integer', minimum: 16, maximum: 2048 });

const digest = param('sha256', 'path', { type: 'string', pattern: '^[0-9a-f]{64}$' });
/** A page of a proof sheet: a PNG in base64, and where frames stand on it, in points. */
const shot = {
  type: 'object',
  required: ['png', 'width', 'height', 'frames'],
  properties: {
    png: { type: 'string', contentEncoding: 'base64' },
    width: { type: 'number' },
    height: { type: 'number' },
    frames: {
      type: 'array',
      items: {
        type: 'object',
        properties: { n: { type: 'integer' }, x: { type: 'number' }, y: { type: 'number' }, k: { type: 'number' } },
      },
    },
  },
};
const frame = { $ref: '#/components/schemas/Frame' };
const row = { type: 'array', items: { type: ['string', 'null'] }, minItems: 1, maxItems: 200 };
const body = (schema: object): object => ({ required: true, content: { 'application/json': { schema } } });
const finishBody = {
  type: 'object',
  required: ['finish'],
  properties: { finish: { $ref: '#/components/schemas/Finish' } },
};
const finishId = param('id', 'path', { type: 'string' });
const bytes = { required: true, content: { 'application/octet-stream': {} } };

/** What the server offers, as OpenAPI 3.1. */
export const openapi = {
  openapi: '3.1.0',
  info: {
    title: 'Gable',
    version: '0.1.0',
    description: 'Puts the pictures of a document into shapes. Lengths are points, shares 0..1.',
  },
  paths: {
    '/api/health': {
      get: { summary: 'Is the server up?', responses: { 200: ok('It is'), 503: ok('Its database is not') } },
    },
    '/api/works': {
      get: {
        summary: 'Works, the latest first, a page at a time; `next` of the answer asks for those after them',
        parameters: [
          param('limit', 'query', { type: 'integer', minimum: 1, maximum: 500, default: 100 }),
          param('after', 'query', { type: 'string' }),
        ],
        responses: { 200: ok('Works'), 400: problem },
      },
      post: {
        summary: 'Open a file as a work',
        parameters: [param('name', 'query', { type: 'string' })],
        requestBody: { required: true, content: { 'application/octet-stream': {} } },
        responses: { 201: ok('The work'), 413: problem, 422: problem },
      },
    },
    '/api/works/{id}': {
      get: {
        summary: 'A work with its pictures and frames',
        parameters: [id],
        responses: { 200: ok('The work'), 404: problem },
      },
      delete: {
        summary: 'Remove a work; it can be brought back for ten minutes',
        parameters: [id],
        responses: { 204: { description: 'Removed' }, 404: problem },
      },
    },
    '/api/works/{id}/restore': {
      post: {
        summary: 'Bring back a work that was removed a short while ago',
        parameters: [id],
        responses: { 200: ok('The work'), 404: problem },
      },
    },
    '/api/works/{id}/frames': {
      put: {
        summary: 'Save the frames that differ from the file',
        parameters: [id],
        requestBody: {
          required: true,
          content: {
            'application/json': {
              schema: {
                type: 'object',
                required: ['revision', 'frames'],
                properties: {
                  revision: { type: 'integer' },
                  frames: { type: 'object', additionalProperties: { $ref: '#/components/schemas/Frame' } },
                  over: { type: 'boolean' },
                  history: {
                    type: 'object',
                    required: ['from', 'deeds', 'done'],
                    properties: {
                      from: { type: 'integer', minimum: 0 },
                      deeds: { type: 'array', items: { type: 'object' } },
                      done: { type: 'integer', minimum: 0 },
                    },
                  },
                },
              },
            },
          },
        },
        responses: { 200: ok('The new revision'), 400: problem, 404: problem, 409: problem },
      },
    },
    '/api/works/{id}/versions': {
      get: {
        summary: 'States set aside when two windows disagreed',
        parameters: [id],
        responses: { 200: ok('Versions'), 404: problem },
      },
    },
    '/api/works/{id}/jobs': {
      get: { summary: 'Long jobs of a work, the latest first', parameters: [id], responses: { 200: ok('Jobs') } },
      post: {
        summary: 'Hand over the file, or every frame as pictures, as a long job',
        parameters: [id],
        requestBody: body({
          oneOf: [
            { type: 'object', properties: { kind: { const: 'hand-over' } } },
            {
              type: 'object',
              properties: {
                kind: { const: 'proof' },
                shots: {
                  type: 'array',
                  maxItems: 40,
                  description: 'Pages that only a browser can lay out, without their pictures',
                  items: { type: 'object', properties: { caption: { type: 'string' }, before: shot, after: shot } },
                },
              },
            },
            {
              type: 'object',
              properties: {
                kind: { const: 'set' },
                format: { enum: ['png', 'webp', 'jpg', 'avif', 'svg'] },
                widths: { type: 'array', items: { type: 'integer' } },
              },
            },
          ],
        }),
        responses: { 201: ok('The job'), 404: problem, 422: problem },
      },
    },
    '/api/jobs/{id}': {
      get: { summary: 'A job', parameters: [id], responses: { 200: ok('The job'), 404: problem } },
      delete: {
        summary: 'Cancel a job, or forget one that is over',
        parameters: [id],
        responses: { 204: { description: 'Done' }, 404: problem },
      },
    },
    '/api/jobs/{id}/events': {
      get: {
        summary: 'The job whenever it has changed, as server-sent events',
        parameters: [id],
        responses: { 200: ok('Events', 'text/event-stream'), 404: problem },
      },
    },
    '/api/jobs/{id}/file': {
      get: {
        summary: 'What the job made',
        parameters: [id],
        responses: { 200: ok('The file', 'application/octet-stream'), 404: problem, 409: problem },
      },
    },
    '/api/works/{id}/file': {
      get: {
        summary: 'The file with its frames',
        parameters: [id],
        responses: { 200: ok('The file', 'application/octet-stream'), 404: problem, 422: problem },
      },
    },
    '/api/works/pictures': {
      post: {
        summary: 'Begin a work with kept pictures, in a row; null is an empty frame',
        requestBody: body({
          type: 'object',
          required: ['pictures'],
          properties: { name: { type: 'string' }, pictures: row },
        }),
        responses: { 201: ok('The work'), 400: problem, 404: problem },
      },
    },
    '/api/works/{id}/pictures': {
      post: {
        summary: 'Add kept pictures to a work of pictures',
        parameters: [id],
        requestBody: body({ type: 'object', required: ['pictures'], properties: { pictures: row } }),
        responses: { 201: ok('The work'), 404: problem, 409: problem },
      },
    },
    '/api/works/{id}/history': {
      get: {
        summary: 'What was done, the latest 300 deeds and those undone; earlier ones before a number',
        parameters: [id, param('before', 'query', { type: 'integer', minimum: 0 })],
        responses: { 200: ok('Deeds'), 404: problem },
      },
    },
    '/api/works/{id}/fidelity': {
      post: {
        summary: 'How frames will be written: natively, or painted into pixels',
        parameters: [id],
        requestBody: body({ type: 'object', properties: { frames: { type: 'array', items: frame } } }),
        responses: { 200: ok('Fidelity'), 404: problem, 409: problem },
      },
    },
    '/api/works/{id}/margin': {
      post: {
        summary: 'Put a kept picture into the header or footer: a new work beside this one',
        parameters: [id],
        requestBody: body({
          type: 'object',
          required: ['sha256', 'into', 'pages', 'align', 'width', 'gap'],
          properties: {
            sha256: { type: 'string' },
            into: { enum: ['header', 'footer'] },
            pages: { enum: ['all', 'first'] },
            align: { enum: ['left', 'center', 'right'] },
            width: { type: 'number' },
            gap: { type: ['number', 'null'] },
            alt: { type: 'string' },
          },
        }),
        responses: { 201: ok('The new work, and the number of the picture in it'), 404: problem, 422: problem },
      },
    },
    '/api/works/{id}/ground': {
      get: {
        summary: 'A drawing without its pictures, or the picture behind a slide, as a PNG',
        parameters: [id, { name: 'page', in: 'query', schema: { type: 'integer', minimum: 1, default: 1 } }],
        responses: { 200: ok('The ground', 'image/png'), 404: problem, 422: problem },
      },
    },
    '/api/works/{id}/pages': {
      post: {
        summary:
          'The document with a stand-in for each picture, or a web page or text as HTML, for laying out its pages',
        parameters: [id],
        requestBody: body({
          type: 'object',
          properties: { frames: { type: 'array', items: frame }, page: { type: 'integer', minimum: 1, default: 1 } },
        }),
        responses: { 200: ok('A document', 'application/octet-stream'), 404: problem, 409: problem },
      },
    },
    '/api/works/{id}/pictures/{n}/export': {
      post: {
        summary: 'One framed picture as PNG, JPEG, WebP, AVIF, PDF, SVG or HTML',
        parameters: [id, n],
        requestBody: body({
          type: 'object',
          required: ['frame', 'format'],
          properties: {
            frame,
            format: { enum: ['png', 'jpg', 'webp', 'avif', 'pdf', 'svg', 'html'] },
            ppi: { type: 'number', minimum: 1, maximum: 2400 },
            width: { type: 'integer', minimum: 1, maximum: 20_000 },
          },
        }),
        responses: { 200: ok('The picture', 'image/*'), 400: problem, 404: problem, 422: problem },
      },
    },
    '/api/pictures': {
      get: {
        summary: 'The stock and kept pictures, by words',
        parameters: [param('q', 'query', { type: 'string' })],
        responses: { 200: ok('Pictures') },
      },
      post: {
        summary: 'Keep a picture',
        parameters: [param('name', 'query', { type: 'string' })],
        requestBody: bytes,
        responses: { 201: ok('The picture'), 413: problem, 422: problem },
      },
    },
    '/api/pictures/{sha256}': {
      delete: {
        summary: 'Offer a picture no longer; works that show it go on showing it',
        parameters: [digest],
        responses: { 204: { description: 'Done' }, 404: problem },
      },
    },
    '/api/pictures/{sha256}/proxy': {
      get: {
        summary: 'A smaller copy of a kept picture',
        parameters: [digest, side],
        responses: { 200: ok('The picture', 'image/*'), 404: problem },
      },
    },
    '/api/finishes': {
      get: { summary: 'All finishes: those that ship, then one’s own', responses: { 200: ok('Finishes') } },
      post: {
        summary: 'Keep a finish',
        requestBody: body(finishBody),
        responses: { 201: ok('The finish with its id'), 422: problem },
      },
    },
    '/api/finishes/{id}': {
      put: {
        summary: 'Change a finish',
        parameters: [finishId],
        requestBody: body(finishBody),
        responses: { 200: ok('The finish'), 404: problem, 422: problem },
      },
      delete: {
        summary: 'Remove a finish; frames that have it stay as they are',
        parameters: [finishId],
        responses: { 204: { description: 'Removed' }, 404: problem },
      },
    },
    '/api/finishes/shipped': {
      post: { summary: 'The shipped finishes as they came', responses: { 200: ok('Finishes') } },
    },
    '/api/works/{id}/marks': {
      put: {
        summary: 'Say what is deliberate, and which finish comes first',
        parameters: [id],
        requestBody: body({
          type: 'object',
          properties: { deliberate: { type: 'array', items: { type: 'string' } }, finish: { type: 'string' } },
        }),
        responses: { 200: ok('The marks'), 404: problem, 422: problem },
      },
    },
    '/api/silhouettes': {
      get: { summary: 'Shapes made from drawings', responses: { 200: ok('Silhouettes') } },
      post: {
        summary: 'Make a shape from an SVG or a picture',
        parameters: [param('name', 'query', { type: 'string' })],
        requestBody: bytes,
        responses: { 201: ok('The silhouette'), 422: problem },
      },
    },
    '/api/silhouettes/{id}': {
      delete: {
        summary: 'Remove a silhouette',
        parameters: [id],
        responses: { 204: { description: 'Removed' }, 404: problem },
      },
    },
    '/api/works/{id}/pictures/{n}/proxy': {
      get: {
        summary: 'A smaller copy of a picture, as stored',
        parameters: [id, n, side],
        responses: { 200: ok('The picture', 'image/*'), 404: problem, 422: problem },
      },
    },
    '/api/works/{id}/pictures/{n}/framed': {
      get: {
        summary: 'The framed picture',
        parameters: [id, n, side],
        responses: { 200: ok('The picture', 'image/png'), 404: problem, 422: problem },
      },
    },
  },
  components: { schemas: { Frame: z.toJSONSchema(FrameSchema), Finish: z.toJSONSchema(FinishSchema) } },
};

export function openapiRouter(): Router {
  const router = Router();
  router.get('/', (_req, res) => {
    res.json(openapi);
  });
  return router;
}
