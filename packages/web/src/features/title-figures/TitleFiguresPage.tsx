import { Button, SegmentedControl } from '@mantine/core';
import { TITLE_MEASURES, type TitleMeasure } from '@tonos/contract';
import { LIMITABLE_MEASURES, medianOf } from '@tonos/core';
import { useMemo, useState } from 'react';
import { Link, useNavigate, useParams, useSearchParams } from 'react-router';
import { api } from '../../api/api.ts';
import { figureText } from '../../ui/figure-text.ts';
import { limitText } from '../../ui/limit-text.ts';
import { Page } from '../../ui/Page.tsx';
import { Trouble } from '../../ui/Trouble.tsx';
import { ChapterChart } from './ChapterChart.tsx';
import { chapterFigures } from './chapter-figures.ts';
import { changeText, outlierText } from './outlier-text.ts';
import classes from './TitleFigures.module.css';

/** More points than this stand too near to be told apart; the rest is on further pages. */
const PAGE = 150;

const isTitleMeasure = (name: string | null): name is TitleMeasure => TITLE_MEASURES.some((one) => one === name);

/** One figure of a title over all its recordings: what came in, what was delivered, the target's window, and what stands out. */
export function TitleFiguresPage() {
  const { id = '' } = useParams();
  const navigate = useNavigate();
  const { data: title, error, refetch } = api.useTitleQuery(id);
  const { data: recordings = [] } = api.useRecordingsQuery(id);
  const { data: delivered = [] } = api.useFiguresQuery(id);
  const { data: targets = [] } = api.useTargetsQuery();
  const [query, setQuery] = useSearchParams();
  const [page, setPage] = useState(0);
  const target = targets.find((one) => one.id === title?.targetId);
  const asked = query.get('measure') ?? target?.limits.find(({ aim }) => aim !== undefined)?.measure ?? null;
  const measure = isTitleMeasure(asked) ? asked : 'integratedLufs';
  const limit = target?.limits.find((one) => one.measure === measure);
  const rows = useMemo(
    () => chapterFigures(recordings, delivered, measure, limit),
    [recordings, delivered, measure, limit],
  );
  if (error)
    return (
      <Page title="Title">
        <Trouble error={error} retry={refetch} />
      </Page>
    );
  const { unit } = LIMITABLE_MEASURES[measure];
  const outliers = rows.filter(({ outlier }) => outlier);
  const shown = rows.slice(page * PAGE, (page + 1) * PAGE);
  const median = (of: 'source' | 'delivered') => {
    const known = rows.flatMap((row) => row[of] ?? []);
    return figureText(measure, known.length ? medianOf(known) : null);
  };
  return (
    <Page
      title={title ? `Figures of ${title.name}` : '\u00a0'}
      about={
        <>
          <Link to={`/titles/${id}`}>{title?.name}</Link>
          {target && ` \u00b7 ${target.name}`}
          {limit && `: ${LIMITABLE_MEASURES[measure].title} ${limitText(limit)}`}
        </>
      }
    >
      <div className={classes.tools}>
        <SegmentedControl
          size="xs"
          aria-label="Measure"
          data={TITLE_MEASURES.map((value) => ({ value, label: LIMITABLE_MEASURES[value].title }))}
          value={measure}
          onChange={(next) => setQuery({ measure: next }, { replace: true })}
        />
        <Key hasWindow={!!limit} />
      </div>
      {rows.length === 0 ? (
        <p className="empty">No recording yet: its figures stand here as soon as one is measured.</p>
      ) : (
        <>
          <ChapterChart
            measure={measure}
            rows={shown}
            limit={limit}
            onOpen={(recordingId) => void navigate(`/recordings/${recordingId}`)}
          />
          <p role="status">
            {outliers.length === 0
              ? 'None stands out.'
              : `${outliers.length} of ${rows.length} ${outliers.length === 1 ? 'stands' : 'stand'} out: `}
            {outliers.slice(0, 6).map(({ id: recordingId, name, outlier }, i) => (
              <span key={recordingId}>
                {i > 0 && '; '}
                <Link to={`/recordings/${recordingId}`}>{name}</Link> {outlierText(measure, outlier!)}
              </span>
            ))}
            {outliers.length > 6 && ` and ${outliers.length - 6} more, named below.`}
          </p>
          {rows.length > PAGE && (
            <div className={classes.pages}>
              <Button size="compact-sm" variant="default" disabled={page === 0} onClick={() => setPage(page - 1)}>
                Before
              </Button>
              <span className="quiet">
                {page * PAGE + 1} to {Math.min(rows.length, (page + 1) * PAGE)} of {rows.length}
              </span>
              <Button
                size="compact-sm"
                variant="default"
                disabled={(page + 1) * PAGE >= rows.length}
                onClick={() => setPage(page + 1)}
              >
                After
              </Button>
            </div>
          )}
          <table className={`ledger ${classes.table}`}>
            <thead>
              <tr>
                <th className="place">No.</th>
                <th>Recording</th>
                <th className="number">Source</th>
                <th className="number">Delivered {measure === 'durationSeconds' ? '' : unit}</th>
                <th className="number">Change</th>
                <th>Stands out</th>
              </tr>
            </thead>
            <tbody>
              {shown.map((row) => (
                <tr key={row.id}>
                  <td className="place">{row.position}</td>
                  <td className="name">
                    <Link className="plain" to={`/recordings/${row.id}`}>
                      {row.name}
                    </Link>
                  </td>
                  <td className="number">{figureText(measure, row.source)}</td>
                  <td className="number">{figureText(measure, row.delivered)}</td>
                  <td className="number">{changeText(measure, row)}</td>
                  <td className="verdict-over">{row.outlier && outlierText(measure, row.outlier)}</td>
                </tr>
              ))}
            </tbody>
            <tfoot>
              <tr>
                <td />
                <td className="quiet">Median of all {rows.length}</td>
                <td className="number">{median('source')}</td>
                <td className="number">{median('delivered')}</td>
                <td />
                <td />
              </tr>
            </tfoot>
          </table>
        </>
      )}
    </Page>
  );
}

function Key({ hasWindow }: { hasWindow: boolean }) {
  return (
    <div className={classes.key} aria-hidden>
      <span className={classes.source}>as it came in</span>
      <span className={classes.delivered}>as delivered</span>
      <span className={classes.outlier}>stands out</span>
      {hasWindow && <span className={classes.window}>the target’s window</span>}
    </div>
  );
}
