import { api } from '../../api/api.ts';
import { LevelHistogram } from '../../plots/LevelHistogram.tsx';
import { SpectrumChart } from '../../plots/SpectrumChart.tsx';
import classes from './Bench.module.css';

/** The recording as a whole: how its voice and its room are coloured, and which levels it has. */
export function SoundPictures({ recordingId }: { recordingId: string }) {
  const { data } = api.useRecordingSpectrumQuery(recordingId);
  if (!data?.spectrum) return null;
  return (
    <section className={classes.pictures} aria-label="Spectrum and levels">
      <div className={classes.caption}>
        <span>Spectrum: loud strong, quiet thin</span>
        <span>Hz, dBFS a sixth octave</span>
      </div>
      <SpectrumChart
        label="Long-term spectrum"
        centresHz={data.spectrum.centresHz}
        lines={[
          { name: 'quiet', strong: false, values: data.spectrum.quietDb },
          { name: 'loud', strong: true, values: data.spectrum.loudDb },
        ]}
        heightPx={132}
      />
      <div className={classes.caption}>
        <span>How often each level occurs</span>
        <span>dBFS</span>
      </div>
      <LevelHistogram {...data.spectrum.levels} />
    </section>
  );
}
