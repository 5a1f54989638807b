import { ActionIcon, Button, Checkbox, NumberInput, Select, TextInput, Tooltip } from '@mantine/core';
import { IconArrowDown, IconArrowUp } from '@tabler/icons-react';
import type { Recording } from '@tonos/contract';
import type { OrderFile, OrderPart } from '@tonos/core';
import { memo } from 'react';
import classes from './PartForm.module.css';

interface PartFormProps {
  order: OrderFile;
  part: OrderPart;
  recordings: readonly Recording[];
  chainNames: readonly string[];
  /** The marks of the part that this one may open. */
  marksOf(id: string): string[];
  onChange(change: Partial<OrderPart>, touched: string): void;
  onMove(by: number): void;
  onRemove(): void;
}

const PLACE = 'place:';
const KINDS = [
  { kind: 'music', group: 'Music' },
  { kind: 'sound', group: 'Sounds' },
  { kind: 'voice', group: 'Recordings' },
] as const;

/** All that a row says, to be chosen and typed. */
export const PartForm = memo(function PartForm({
  order,
  part,
  recordings,
  chainNames,
  marksOf,
  onChange,
  onMove,
  onRemove,
}: PartFormProps) {
  const { source, shape, chain } = part;
  const others = order.parts
    .filter(({ id }) => id !== part.id)
    .map(({ id, name }) => ({ value: id, label: name || id }));
  const places = [
    ...new Set(['body', ...order.parts.flatMap((one) => ('place' in one.source ? [one.source.place] : []))]),
  ];
  const sources = [
    ...KINDS.map(({ kind, group }) => ({
      group,
      items: recordings
        .filter((recording) => recording.kind === kind)
        .map(({ id, name, givenName }) => ({ value: id, label: givenName || name })),
    })),
    {
      group: 'Filled per episode',
      items: places.map((place) => ({ value: `${PLACE}${place}`, label: `place: ${place}` })),
    },
  ];
  const stretchOf = (change: { startSeconds?: number; endSeconds?: number | null }) => {
    if ('recording' in source) onChange({ source: { ...source, ...change } }, 'stretch');
  };
  return (
    <section className={classes.form} aria-label={`Part ${part.name || part.id}`}>
      <div className={classes.fields}>
        <TextInput
          label="Name"
          maxLength={200}
          value={part.name}
          placeholder={part.id}
          onChange={(event) => onChange({ name: event.currentTarget.value }, 'name')}
        />
        <Select
          label="Source"
          data={sources}
          searchable
          allowDeselect={false}
          value={'place' in source ? `${PLACE}${source.place}` : source.recording}
          onChange={(value) => {
            if (!value) return;
            const made = value.startsWith(PLACE)
              ? { place: value.slice(PLACE.length) }
              : stretchOfNew(recordings.find(({ id }) => id === value)!);
            onChange({ source: made }, 'source');
          }}
        />
        {'place' in source ? (
          <TextInput
            key={source.place}
            label="Name of the place"
            maxLength={64}
            defaultValue={source.place}
            onBlur={(event) => {
              const place = event.currentTarget.value.trim();
              if (place && place !== source.place) onChange({ source: { place } }, 'place');
            }}
          />
        ) : (
          <>
            <SecondsField
              label="From, in it"
              value={source.startSeconds}
              set={(startSeconds) => stretchOf({ startSeconds: startSeconds ?? 0 })}
            />
            <SecondsField
              label="To, in it"
              value={source.endSeconds}
              placeholder="its end"
              set={(endSeconds) => stretchOf({ endSeconds })}
            />
          </>
        )}
        <Select
          label="Group"
          allowDeselect={false}
          data={order.groups.map(({ id, name }) => ({ value: id, label: name || id }))}
          value={part.group}
          onChange={(group) => group && onChange({ group }, 'group')}
        />
        <TextInput
          label="Chapter"
          maxLength={500}
          value={part.chapter ?? ''}
          placeholder="none begins here"
          onChange={(event) => onChange({ chapter: event.currentTarget.value || null }, 'chapter')}
        />
      </div>
      <div className={classes.fields}>
        <BeginsFields part={part} others={others} marksOf={marksOf} onChange={onChange} />
      </div>
      <div className={classes.fields}>
        <LastsFields part={part} others={others} onChange={onChange} />
      </div>
      <div className={classes.fields}>
        <Select
          label="Shape of fades"
          allowDeselect={false}
          data={[
            { value: 's-curve', label: 'S-curve' },
            { value: 'linear', label: 'Straight' },
            { value: 'equal-power', label: 'Equal power' },
          ]}
          value={shape}
          onChange={(value) => value && onChange({ shape: value as OrderPart['shape'] }, 'shape')}
        />
        <NumberInput
          label="Gain, dB"
          min={-60}
          max={24}
          step={0.5}
          decimalScale={2}
          value={part.gainDb}
          onChange={(value) => typeof value === 'number' && onChange({ gainDb: value }, 'gain')}
        />
        {order.channels === 2 && (
          <NumberInput
            label="To the side"
            description={'\u22121 left, 1 right; one channel only'}
            min={-1}
            max={1}
            step={0.1}
            decimalScale={2}
            value={part.pan}
            onChange={(value) => typeof value === 'number' && onChange({ pan: value }, 'pan')}
          />
        )}
        <Select
          label="Chain of its own"
          clearable
          searchable
          placeholder="none"
          data={[...chainNames]}
          value={typeof chain === 'string' ? chain : (chain?.name ?? null)}
          onChange={(value) => onChange({ chain: value }, 'chain')}
        />
        <div className={classes.acts}>
          <Tooltip label="A row up (Alt up)">
            <ActionIcon size="lg" variant="default" aria-label="A row up" onClick={() => onMove(-1)}>
              <IconArrowUp size={18} />
            </ActionIcon>
          </Tooltip>
          <Tooltip label="A row down (Alt down)">
            <ActionIcon size="lg" variant="default" aria-label="A row down" onClick={() => onMove(1)}>
              <IconArrowDown size={18} />
            </ActionIcon>
          </Tooltip>
          <Button variant="default" onClick={onRemove}>
            Take the part out
          </Button>
        </div>
      </div>
    </section>
  );
});

/** What is repeated of a bed, where somebody has said it; else the whole. */
const stretchOfNew = ({ id, loop }: Recording) => ({
  recording: id,
  startSeconds: loop?.startSeconds ?? 0,
  endSeconds: loop?.endSeconds ?? null,
});

type Others = { value: string; label: string }[];

function BeginsFields({
  part: { begins },
  others,
  marksOf,
  onChange,
}: Pick<PartFormProps, 'part' | 'marksOf' | 'onChange'> & { others: Others }) {
  const how = 'after' in begins ? (begins.after === null ? 'start' : 'after') : 'with' in begins ? 'with' : 'into';
  const on = 'after' in begins ? begins.after : 'with' in begins ? begins.with : begins.into;
  const by = 'after' in begins ? begins.gapSeconds : 'with' in begins ? begins.offsetSeconds : 0;
  const put = (next: string, id: string | null, seconds: number, mark?: string) => {
    const other = id ?? others[0]?.value;
    const made: Record<string, OrderPart['begins'] | undefined> = {
      start: { after: null, gapSeconds: Math.max(0, seconds) },
      after: other ? { after: other, gapSeconds: seconds } : undefined,
      with: other ? { with: other, offsetSeconds: seconds } : undefined,
      into: other ? { into: other, mark: mark ?? marksOf(other)[0] ?? 'break 1' } : undefined,
    };
    if (made[next]) onChange({ begins: made[next] }, 'begins');
  };
  return (
    <>
      <Select
        className={classes.how}
        label="Begins"
        allowDeselect={false}
        data={[
          { value: 'start', label: 'at the start of the programme' },
          { value: 'after', label: 'when another part ends', disabled: !others.length },
          { value: 'with', label: 'when another part begins', disabled: !others.length },
          { value: 'into', label: 'inside another part, at a mark', disabled: !others.length },
        ]}
        value={how}
        onChange={(value) => value && put(value, on, 'into' in begins ? 0 : by)}
      />
      {how !== 'start' && (
        <Select
          label="Part"
          allowDeselect={false}
          data={others}
          value={on}
          onChange={(value) => value && put(how, value, by)}
        />
      )}
      {'into' in begins ? (
        <Select
          label="Mark"
          searchable
          allowDeselect={false}
          data={[...new Set([...marksOf(begins.into), begins.mark])]}
          value={begins.mark}
          onChange={(value) => value && put('into', begins.into, 0, value)}
        />
      ) : (
        <SecondsField
          label={how === 'after' ? 'Later by (\u2212 overlaps)' : 'Later by (\u2212 is before)'}
          value={by}
          min={how === 'start' ? 0 : -1e6}
          set={(seconds) => put(how, on, seconds ?? 0)}
        />
      )}
    </>
  );
}

function LastsFields({
  part: { lasts, begins },
  others,
  onChange,
}: Pick<PartFormProps, 'part' | 'onChange'> & { others: Others }) {
  const how = !lasts ? 'whole' : 'untilEndOf' in lasts ? 'untilEndOf' : 'untilBeginOf';
  const on = !lasts ? null : 'untilEndOf' in lasts ? lasts.untilEndOf : lasts.untilBeginOf;
  const { offsetSeconds = 0, loop = false } = lasts ?? {};
  const put = (next: string, id: string | null, rest: { offsetSeconds: number; loop: boolean }) => {
    const other = id ?? others[0]?.value;
    if (next === 'whole' || !other) return onChange({ lasts: null }, 'lasts');
    onChange(
      { lasts: next === 'untilEndOf' ? { untilEndOf: other, ...rest } : { untilBeginOf: other, ...rest } },
      'lasts',
    );
  };
  return (
    <>
      <Select
        className={classes.how}
        label="Lasts"
        allowDeselect={false}
        disabled={'into' in begins}
        data={[
          { value: 'whole', label: 'as long as it is' },
          { value: 'untilEndOf', label: 'until another part ends', disabled: !others.length },
          { value: 'untilBeginOf', label: 'until another part begins', disabled: !others.length },
        ]}
        value={how}
        onChange={(value) => value && put(value, on, { offsetSeconds, loop })}
      />
      {lasts && (
        <>
          <Select
            label="Part"
            allowDeselect={false}
            data={others}
            value={on}
            onChange={(value) => value && put(how, value, { offsetSeconds, loop })}
          />
          <SecondsField
            label={'Later by (\u2212 is before)'}
            value={offsetSeconds}
            min={-1e6}
            set={(seconds) => put(how, on, { offsetSeconds: seconds ?? 0, loop })}
          />
          <Checkbox
            className={classes.check}
            label="Repeated where it is too short"
            checked={loop}
            onChange={(event) => put(how, on, { offsetSeconds, loop: event.currentTarget.checked })}
          />
        </>
      )}
    </>
  );
}

interface SecondsFieldProps {
  label: string;
  value: number | null;
  placeholder?: string;
  min?: number;
  set(seconds: number | null): void;
}

function SecondsField({ label, value, placeholder, min = 0, set }: SecondsFieldProps) {
  return (
    <NumberInput
      label={label}
      suffix=" s"
      decimalScale={3}
      step={0.1}
      min={min}
      placeholder={placeholder}
      value={value ?? ''}
      onChange={(typed) => set(typed === '' ? null : Number(typed))}
    />
  );
}
