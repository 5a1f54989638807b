import { type Findings, stepOf } from '@tonos/core';
import { useMemo } from 'react';
import type { NamedStep } from '../step-list.ts';
import { DecayPicture } from './DecayPicture.tsx';
import { EnvelopePicture } from './EnvelopePicture.tsx';
import { handlesOf } from './handles.ts';
import { PausesPicture } from './PausesPicture.tsx';
import classes from './Pictures.module.css';
import { ResponsePicture } from './ResponsePicture.tsx';
import { SpectraPicture } from './SpectraPicture.tsx';
import type { StepPicture } from './step-picture.ts';
import { TracePicture } from './TracePicture.tsx';
import { TransferPicture } from './TransferPicture.tsx';

interface StepPicturesProps {
  step: NamedStep;
  findings: Findings | undefined;
  picture: StepPicture | null;
  onChange(settings: Record<string, unknown>): void;
}

/** What a step does, drawn: its curve, what it did along the stretch, or the spectra before and after. */
export function StepPictures({ step, findings, picture, onChange }: StepPicturesProps) {
  const definition = stepOf(step)!;
  const settings = useMemo(() => {
    const parsed = definition.settings.safeParse(step.settings);
    return parsed.success ? parsed.data : undefined;
  }, [definition, step.settings]);
  const { curves, traces = {}, traits, group } = definition;
  const response = useMemo(
    () => (settings === undefined ? undefined : curves?.response?.(settings, findings ?? {})),
    [curves, settings, findings],
  );
  const transfer = useMemo(
    () => (settings === undefined ? undefined : curves?.transfer?.(settings)),
    [curves, settings],
  );
  if (settings === undefined) return null;
  if (curves?.pauses)
    return findings ? (
      <PausesPicture pauses={curves.pauses(settings, findings)} longestSeconds={settings[traits?.longestPause ?? '']} />
    ) : null;
  if (curves?.envelope)
    return (
      picture && (
        <EnvelopePicture
          picture={picture}
          lengthSeconds={findings?.seconds as number | undefined}
          gainAt={curves.envelope(settings, findings ?? {})}
        />
      )
    );
  if (curves?.decay) return <DecayPicture decays={curves.decay(settings)} />;
  if (response)
    return (
      <ResponsePicture
        curve={response}
        handles={handlesOf(step)}
        before={picture?.spectrumBefore}
        after={picture?.spectrumAfter}
        onChange={onChange}
      />
    );
  const [trace] = Object.entries(traces).filter(([, { unit }]) => unit === 'dB');
  if (transfer || trace)
    return (
      <div className={classes.pair}>
        {transfer && <TransferPicture stepId={step.id} transfer={transfer} />}
        {picture && trace && <TracePicture picture={picture} name={trace[0]} {...trace[1]} />}
      </div>
    );
  if (picture && (group === 'repair' || group === 'tone'))
    return <SpectraPicture before={picture.spectrumBefore} after={picture.spectrumAfter} />;
  return null;
}
