import { HttpErrorResponse } from '@angular/common/http';
import { GableError } from '@gable/core';

/** An error as the interface shows it: what is wrong, and what to do. */
export interface Problem {
  code: string;
  title: string;
  remedy: string;
  facts: Record<string, unknown>;
}

/** Turns whatever a request threw into something to show. */
export function toProblem(error: unknown): Problem {
  if (error instanceof HttpErrorResponse) {
    if (error.status === 0)
      return {
        code: 'offline',
        title: 'The server cannot be reached.',
        remedy: 'Check that it is running; your changes stay here until then.',
        facts: {},
      };
    const body = (typeof error.error === 'string' ? parse(error.error) : error.error) as Record<string, unknown> | null;
    if (body && typeof body['code'] === 'string')
      return {
        code: body['code'],
        title: String(body['title'] ?? ''),
        remedy: String(body['detail'] ?? ''),
        facts: (body['facts'] as Problem['facts'] | undefined) ?? {},
      };
  }
  if (error instanceof GableError)
    return { code: error.code, title: error.message, remedy: error.remedy, facts: { ...error.facts } };
  return { code: 'internal', title: 'Something went wrong.', remedy: 'Try again.', facts: {} };
}

function parse(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return null;
  }
}
