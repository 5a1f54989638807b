import type { Run, RunItem } from '@tonos/contract';
import { differenceUnit, LIMITABLE_MEASURES, type LimitableMeasure, signedFigure } from '@tonos/core';
import { Link, useParams } from 'react-router';
import { api } from '../../api/api.ts';
import { figureText } from '../../ui/figure-text.ts';
import { Page } from '../../ui/Page.tsx';
import { Trouble } from '../../ui/Trouble.tsx';
import { moment } from '../../ui/time.ts';
import { isSame, type Pair, pairs } from './beside.ts';
import classes from './RunsBeside.module.css';

/** What people judge a chain by, and what a target may limit besides; lengths belong to the recording. */
const SHOWN: readonly LimitableMeasure[] = [
  'integratedLufs',
  'rmsDbfs',
  'truePeakDbtp',
  'noiseFloorDbfs',
  'loudnessRangeLu',
];

/** Two runs of a title, recording by recording: what the one has made and the other, and what lies between. */
export function RunsBesidePage() {
  const { id = '', other = '' } = useParams();
  const { data: first, error, refetch } = api.useRunQuery(id);
  const { data: second, error: otherError } = api.useRunQuery(other);
  if (error ?? otherError)
    return (
      <Page title="Two runs">
        <Trouble error={error ?? otherError} retry={refetch} />
      </Page>
    );
  if (!first || !second) return <Page title={'\u00a0'}>{null}</Page>;
  const paired = pairs(first, second);
  const same = paired.filter(isSame).length;
  return (
    <Page
      title={`${first.titleName}: two runs`}
      about={`${paired.length} recordings${same ? ` \u00b7 ${same} delivered alike to the byte` : ''}`}
    >
      <dl className={classes.runs}>
        <RunFacts letter="A" run={first} />
        <RunFacts letter="B" run={second} />
      </dl>
      <table className={`ledger ${classes.table}`}>
        <thead>
          <tr className={classes.measures}>
            <td />
            {SHOWN.map((measure) => (
              <th key={measure} colSpan={3} className={classes.measure}>
                {LIMITABLE_MEASURES[measure].title} <span className="unit">{LIMITABLE_MEASURES[measure].unit}</span>
              </th>
            ))}
            <td />
          </tr>
          <tr>
            <th>Recording</th>
            {SHOWN.map((measure) => (
              <Columns key={measure} unit={differenceUnit(LIMITABLE_MEASURES[measure].unit)} />
            ))}
            <th className={classes.verdict}>A {'\u2192'} B</th>
          </tr>
        </thead>
        <tbody>
          {paired.map((pair) => (
            <PairRow key={pair.recordingId} pair={pair} />
          ))}
        </tbody>
      </table>
    </Page>
  );
}

function RunFacts({ letter, run }: { letter: string; run: Run }) {
  return (
    <div>
      <dt>{letter}</dt>
      <dd>
        <Link to={`/runs/${run.id}`}>{moment(run.createdAt)}</Link>: {run.chainName}, revision {run.revision} {'\u2192'}{' '}
        {run.targetName}; {run.counts.within} within, {run.counts['off-target']} off target
        {run.counts.failed > 0 && `, ${run.counts.failed} failed`}
      </dd>
    </div>
  );
}

function Columns({ unit }: { unit: string }) {
  return (
    <>
      <th className={classes.first}>A</th>
      <th>B</th>
      <th className={classes.change}>{unit}</th>
    </>
  );
}

const stateOf = (item: RunItem | undefined): string =>
  item ? (item.accepted ? 'accepted' : item.status === 'off-target' ? 'off target' : item.status) : 'not in it';

function PairRow({ pair }: { pair: Pair }) {
  const { name, first, second } = pair;
  const judged = (item: Pair['first'], measure: LimitableMeasure) =>
    item?.limits.find((limit) => limit.measure === measure && limit.required)?.result;
  return (
    <tr>
      <td className={classes.name} title={name}>
        {name}
      </td>
      {SHOWN.map((measure) => {
        const [a, b] = [first?.after?.[measure] ?? null, second?.after?.[measure] ?? null];
        const { decimals } = LIMITABLE_MEASURES[measure];
        const moved = a !== null && b !== null && Math.abs(b - a) >= 0.5 * 10 ** -decimals;
        return (
          <PairFigures
            key={measure}
            first={figureText(measure, a)}
            second={figureText(measure, b)}
            change={moved ? signedFigure(b - a, decimals) : ''}
            results={[judged(first, measure), judged(second, measure)]}
          />
        );
      })}
      <td className={classes.verdict}>
        {isSame(pair) ? `${stateOf(first)}, the same file` : `${stateOf(first)} \u2192 ${stateOf(second)}`}
      </td>
    </tr>
  );
}

interface PairFiguresProps {
  first: string;
  second: string;
  change: string;
  results: (string | undefined)[];
}

const verdictClass = (result: string | undefined) => (result && result !== 'within' ? `verdict-${result}` : undefined);

function PairFigures({ first, second, change, results }: PairFiguresProps) {
  return (
    <>
      <td className={`${classes.first} ${verdictClass(results[0]) ?? ''}`}>{first}</td>
      <td className={verdictClass(results[1])}>{second}</td>
      <td className={classes.change}>{change}</td>
    </>
  );
}
