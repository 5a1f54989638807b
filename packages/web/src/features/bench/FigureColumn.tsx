import { NativeSelect, VisuallyHidden } from '@mantine/core';
import type { Recording, Target } from '@tonos/contract';
import { figure, judge, LIMITABLE_MEASURES, type LimitableMeasure, type Measurement } from '@tonos/core';
import { useAppDispatch, useAppSelector } from '../../app/store.ts';
import { otherWarnings } from '../../ui/complaint-text.ts';
import { limitText } from '../../ui/limit-text.ts';
import { clock } from '../../ui/time.ts';
import classes from './Bench.module.css';
import { type Beside, besideSlice, figuresBeside } from './beside-slice.ts';
import { ComplaintList } from './ComplaintList.tsx';
import { SoundPictures } from './SoundPictures.tsx';
import { TakeList } from './TakeList.tsx';
import type { ComplaintTour } from './use-complaint-tour.ts';
import type { useListen } from './use-listen.ts';
import { WARNING_HELP } from './warning-help.ts';

const MEASURES = Object.keys(LIMITABLE_MEASURES) as LimitableMeasure[];

const textOf = (measure: LimitableMeasure, value: number | null | undefined) => {
  if (value === null || value === undefined) return '\u2013';
  return measure === 'durationSeconds' ? clock(value, 1) : figure(value, LIMITABLE_MEASURES[measure].decimals);
};

interface FigureColumnProps {
  recording: Recording;
  measurement: Measurement;
  target: Target | undefined;
  siblings: readonly Recording[];
  tour: ComplaintTour;
  mended: ReturnType<typeof useListen>['mended'];
}

/** Every figure of the recording as it is, beside the title's target, or beside its neighbours' figures. */
export function FigureColumn({ recording, measurement, target, siblings, tour, mended }: FigureColumnProps) {
  const dispatch = useAppDispatch();
  const beside = useAppSelector((state) => state.beside);
  const limits = target ? judge(target.limits, measurement).limits : [];
  const others = beside === 'target' ? undefined : figuresBeside(beside, recording, siblings);
  return (
    <aside className={classes.figures} aria-label="Figures">
      <table>
        <thead>
          <tr>
            <th>As it is</th>
            <th>
              <VisuallyHidden>Value</VisuallyHidden>
            </th>
            <th>
              <NativeSelect
                aria-label="Beside it"
                variant="unstyled"
                size="xs"
                classNames={{ input: classes.beside }}
                value={beside}
                onChange={(event) => dispatch(besideSlice.actions.chosen(event.currentTarget.value as Beside))}
                data={[
                  { value: 'target', label: target?.name ?? 'no target' },
                  { value: 'previous', label: 'the one before' },
                  { value: 'next', label: 'the next one' },
                  { value: 'median', label: 'median of the title' },
                ]}
              />
            </th>
          </tr>
        </thead>
        <tbody>
          {MEASURES.map((measure) => {
            const { title, unit } = LIMITABLE_MEASURES[measure];
            const limit = others ? undefined : limits.find((one) => one.measure === measure);
            return (
              <tr key={measure}>
                <td>
                  {title} <span className="unit">{measure === 'durationSeconds' ? '' : unit}</span>
                </td>
                <td className={classes.value}>{textOf(measure, measurement[measure])}</td>
                <td className={limit ? `verdict-${limit.result}` : ''}>
                  {others && textOf(measure, others[measure])}
                  {limit && (limit.result === 'within' ? limitText(limit) : `${limit.result} ${limitText(limit)}`)}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
      <ComplaintList complaints={measurement.complaints} tour={tour} mended={mended} />
      {otherWarnings(measurement).map(({ code, message }) => (
        <p key={code} className={classes.warning}>
          <span className="advice">{message}</span> {WARNING_HELP[code]}
        </p>
      ))}
      <SoundPictures recordingId={recording.id} />
      <TakeList recording={recording} />
    </aside>
  );
}
