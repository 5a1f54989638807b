import { LIMITABLE_MEASURES, type Limit, type OutputFormat } from '@tonos/core';
import { api } from '../../api/api.ts';
import { limitText } from '../../ui/limit-text.ts';
import { Page } from '../../ui/Page.tsx';
import { Trouble } from '../../ui/Trouble.tsx';
import classes from './TargetsPage.module.css';

/** Delivery specifications: what a delivered file must measure, and what it is. */
export function TargetsPage() {
  const { data: targets, error, refetch } = api.useTargetsQuery();
  return (
    <Page title="Targets" about="What a delivered file must measure. Those that ship are read-only.">
      {error && <Trouble error={error} retry={refetch} />}
      {targets && (
        <table className="ledger">
          <thead>
            <tr>
              <th>Target</th>
              <th>Limits</th>
              <th>Delivered as</th>
            </tr>
          </thead>
          <tbody>
            {targets.map(({ id, name, limits, output }) => (
              <tr key={id}>
                <td className="name">{name}</td>
                <td>
                  <ul className={classes.limits}>
                    {limits.map((limit) => (
                      <LimitLine key={limit.measure} limit={limit} />
                    ))}
                  </ul>
                </td>
                <td className="small">{outputText(output)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </Page>
  );
}

function LimitLine({ limit }: { limit: Limit }) {
  const { title, unit } = LIMITABLE_MEASURES[limit.measure];
  return (
    <li>
      {title} <span className="figure">{limitText(limit)}</span>{' '}
      <span className="unit">{limit.measure === 'durationSeconds' ? '' : unit}</span>
      {!limit.required && <span className="quiet small"> advisory</span>}
    </li>
  );
}

function outputText({ container, sampleRateHz, channels, bitDepth, bitrateKbps }: OutputFormat): string {
  const depth = bitDepth ? `${bitDepth}-bit` : '';
  const rate = bitrateKbps ? `${bitrateKbps} kbps` : '';
  const layout = channels === 1 ? 'mono' : channels === 2 ? 'stereo' : '';
  return [
    container.toUpperCase(),
    depth,
    rate,
    layout,
    sampleRateHz ? `${sampleRateHz / 1000} kHz` : 'at the source\u2019s rate',
  ]
    .filter(Boolean)
    .join(' ');
}
