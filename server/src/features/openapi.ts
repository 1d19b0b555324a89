import { FrameSchema } from '@gable/core';
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
      get: { summary: 'All works, the latest first', responses: { 200: ok('Works') } },
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
        summary: 'Remove a work',
        parameters: [id],
        responses: { 204: { description: 'Removed' }, 404: problem },
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
    '/api/works/{id}/file': {
      get: {
        summary: 'The file with its frames',
        parameters: [id],
        responses: { 200: ok('The file', 'application/octet-stream'), 404: problem, 422: problem },
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
  components: { schemas: { Frame: z.toJSONSchema(FrameSchema) } },
};

export function openapiRouter(): Router {
  const router = Router();
  router.get('/', (_req, res) => {
    res.json(openapi);
  });
  return router;
}
