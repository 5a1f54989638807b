import { figure, gainToDb } from '@tonos/core';
import { useMemo } from 'react';
import { Area, AreaChart, Tooltip, XAxis, YAxis } from 'recharts';
import { ChartReading } from '../../plots/ChartReading.tsx';
import { ReadersTable } from '../../plots/ReadersTable.tsx';
import { clock } from '../../ui/time.ts';
import classes from './Pictures.module.css';
import { StretchWave } from './StretchWave.tsx';
import type { StepPicture } from './step-picture.ts';

const WIDTH = 620;
const HEIGHT = 150;
const POINTS = 280;
const ROWS = 20;

interface EnvelopePictureProps {
  picture: StepPicture;
  /** How long what arrives is, where that is known: steps before may have shortened it. */
  lengthSeconds: number | undefined;
  /** The factor at a moment. */
  gainAt(seconds: number): number;
}

/** The shape that a step lays over the sound of the stretch. */
export function EnvelopePicture({ picture, lengthSeconds = Number.POSITIVE_INFINITY, gainAt }: EnvelopePictureProps) {
  const { startSeconds } = picture.stretch;
  const endSeconds = Math.min(picture.stretch.endSeconds, Math.max(startSeconds + 0.1, lengthSeconds));
  const share = (endSeconds - startSeconds) / (picture.stretch.endSeconds - startSeconds);
  const columns = useMemo(() => picture.before.slice(0, Math.ceil(share * picture.before.length)), [picture, share]);
  const rows = Array.from({ length: POINTS + 1 }, (_, i) => {
    const seconds = startSeconds + (i / POINTS) * (endSeconds - startSeconds);
    const gain = gainAt(seconds);
    return { seconds, gain, span: [-gain, gain] };
  });
  const text = (gain: number) => (gain > 0 ? `${figure(gainToDb(gain))} dB` : 'nothing');
  const isFaded = rows.some(({ gain }) => gain < 1);
  const every = Math.ceil(POINTS / ROWS);
  return (
    <figure className={classes.figure}>
      <div className={classes.square} style={{ width: WIDTH }}>
        <StretchWave columns={columns} width={WIDTH} height={HEIGHT} />
        <div className={classes.laid} aria-hidden>
          <AreaChart
            accessibilityLayer={false}
            width={WIDTH}
            height={HEIGHT}
            margin={{ top: 0, right: 0, bottom: 0, left: 0 }}
            data={rows}
          >
            <XAxis hide type="number" dataKey="seconds" domain={['dataMin', 'dataMax']} />
            <YAxis hide type="number" domain={[-1, 1]} />
            <Area
              dataKey="span"
              isAnimationActive={false}
              activeDot={false}
              stroke="var(--act)"
              strokeWidth={1.8}
              fill="var(--act)"
              fillOpacity={0.08}
            />
            <Tooltip
              isAnimationActive={false}
              content={
                <ChartReading
                  head={(seconds) => clock(Number(seconds), 1)}
                  text={(span) => text((span as number[])[1])}
                />
              }
            />
          </AreaChart>
        </div>
      </div>
      <ReadersTable
        caption="The fade along the stretch"
        heads={['At', 'Gain']}
        rows={rows.filter((_, i) => i % every === 0).map(({ seconds, gain }) => [clock(seconds, 1), text(gain)])}
      />
      <figcaption className={classes.caption}>
        {isFaded
          ? `the shape over the sound, ${clock(startSeconds, 1)} to ${clock(endSeconds, 1)}`
          : 'this stretch is not faded: choose one at the recording\u2019s start or end to see the shape over it'}
      </figcaption>
    </figure>
  );
}
