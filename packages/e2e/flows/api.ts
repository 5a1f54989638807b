import { expect } from '@playwright/test';
import type { Tonos } from './tonos.ts';

export interface Named {
  id: string;
  name: string;
}

/** What flows read of a run. */
export interface RunReply {
  id: string;
  status: string;
  counts: Record<string, number>;
  items: {
    id: string;
    status: string;
    output: { sha256: string } | null;
    error: { code?: string; message: string } | null;
  }[];
}

/** Calls the server as programs do; a flow fails where an answer is a problem. */
export const api =
  (tonos: Tonos) =>
  async <T = unknown>(method: string, path: string, body?: unknown): Promise<T> => {
    const form = body instanceof FormData;
    const response = await fetch(`${tonos.origin}/api${path}`, {
      method,
      ...(body === undefined
        ? {}
        : form
          ? { body }
          : { body: JSON.stringify(body), headers: { 'content-type': 'application/json' } }),
    });
    const text = await response.text();
    expect(response.ok, `${method} ${path}: ${text.slice(0, 500)}`).toBe(true);
    return (text ? JSON.parse(text) : undefined) as T;
  };
