import { Button, FileButton } from '@mantine/core';
import { sayError } from '../ui/notify.ts';
import { saveText } from '../ui/save-file.ts';
import { pointsFromCsv, pointsToCsv } from './points-csv.ts';
import type { SettingSchema } from './step-catalogue.ts';

interface PointsCsvProps {
  schema: SettingSchema;
  value: Record<string, unknown>[];
  onChange(value: unknown): void;
}

/** Points of a curve from a file and to a file. */
export function PointsCsv({ schema, value, onChange }: PointsCsvProps) {
  const take = async (file: File | null) => {
    if (!file) return;
    try {
      const points = pointsFromCsv(await file.text());
      const { frequencyHz, gainDb } = schema.items!.properties!;
      const outside = points.find(
        (point) =>
          point.frequencyHz < frequencyHz.minimum! ||
          point.frequencyHz > frequencyHz.maximum! ||
          point.gainDb < gainDb.minimum! ||
          point.gainDb > gainDb.maximum!,
      );
      if (outside)
        throw new Error(
          `${outside.frequencyHz} Hz, ${outside.gainDb} dB lies outside ${frequencyHz.minimum} to ${frequencyHz.maximum} Hz, ${gainDb.minimum} to ${gainDb.maximum} dB.`,
        );
      if (points.length > schema.maxItems!)
        throw new Error(`${points.length} points are too many; ${schema.maxItems} is the most.`);
      onChange(points);
    } catch (error) {
      sayError(`${file.name} was not taken`, error);
    }
  };
  return (
    <>
      <FileButton accept="text/csv,.csv,.txt" onChange={(file) => void take(file)}>
        {(props) => (
          <Button size="xs" variant="subtle" {...props}>
            From CSV
          </Button>
        )}
      </FileButton>
      {value.length > 0 && (
        <Button
          size="xs"
          variant="subtle"
          onClick={() => saveText('points.csv', pointsToCsv(value as never), 'text/csv')}
        >
          To CSV
        </Button>
      )}
    </>
  );
}
