import { adjustmentsFile, chainFile, cutsFile, moduleManifest, orderFile, targetFile } from '@tonos/core';
import * as z from 'zod';
import { outsideFile } from './outside.ts';
import { presetFile } from './preset.ts';
import { recipeFile } from './recipe.ts';
import { reportFile } from './report.ts';

/** The files that stay stable, by their format's name. */
export const SCHEMAS: Readonly<Record<string, z.ZodType>> = {
  'tonos.chain-1': chainFile,
  'tonos.target-1': targetFile,
  'tonos.adjustments-1': adjustmentsFile,
  'tonos.cuts-1': cutsFile,
  'tonos.order-1': orderFile,
  'tonos.preset-1': presetFile,
  'tonos.module-1': moduleManifest,
  'tonos.outside-1': outsideFile,
  'tonos.recipe-1': recipeFile,
  'tonos.report-1': reportFile,
};

/** A published JSON Schema, as it lies in docs/schemas. */
export const schemaText = (name: string, schema: z.ZodType): string =>
  `${JSON.stringify({ title: name.replace('-', '/'), ...z.toJSONSchema(schema, { io: 'input', unrepresentable: 'any' }) }, undefined, 2)}\n`;
