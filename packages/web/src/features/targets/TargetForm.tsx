import {
  ActionIcon,
  Button,
  Checkbox,
  Group,
  NumberInput,
  Select,
  Stack,
  Textarea,
  TextInput,
  VisuallyHidden,
} from '@mantine/core';
import { useForm } from '@mantine/form';
import { IconTrash } from '@tabler/icons-react';
import {
  deliveredName,
  isLossy,
  LIMITABLE_MEASURES,
  type Limit,
  type LimitableMeasure,
  NAME_WORDS,
  type OutputFormat,
  type TargetFile,
  targetFile,
} from '@tonos/core';
import classes from './TargetForm.module.css';

interface TargetFormProps {
  first: TargetFile;
  submit: string;
  onSubmit(file: TargetFile): Promise<void>;
  onCancel(): void;
}

const EXAMPLE = { name: 'ch07 raw', title: 'The Ferry', album: 'Low Water', track: 7, tracks: 24, speaker: 'Narrator' };
const WITH_AIM: readonly string[] = ['integratedLufs', 'rmsDbfs'];

/** A name that is left empty is none. */
const whole = (file: TargetFile) => ({ ...file, naming: file.naming?.trim() || undefined });

/** What is wrong with it, by field. */
function troublesOf(file: TargetFile): Record<string, string> {
  const { error } = targetFile.safeParse(whole(file));
  return Object.fromEntries(
    (error?.issues ?? []).map(({ path, message }) => [
      path.join('.'),
      path[0] === 'limits' && path.length > 1 ? `Limit ${Number(path[1]) + 1}: ${message}` : message,
    ]),
  );
}

/** A delivery specification as a form: limits, what is delivered, what it is called. */
export function TargetForm({ first, submit, onSubmit, onCancel }: TargetFormProps) {
  const form = useForm<TargetFile>({
    initialValues: { ...first, naming: first.naming ?? '' },
    validate: (file) => troublesOf(file),
  });
  const { limits, output, naming } = form.values;
  const [trouble] = Object.entries(form.errors).flatMap(([field, message]) => (field === 'name' ? [] : [message]));
  return (
    <form onSubmit={form.onSubmit((file) => void onSubmit(targetFile.parse(whole(file))))}>
      <Stack>
        <TextInput label="Name" required maxLength={200} data-autofocus {...form.getInputProps('name')} />
        <Limits limits={limits} onChange={(next) => form.setFieldValue('limits', next)} />
        <Output output={output} onChange={(next) => form.setFieldValue('output', next)} />
        <TextInput
          label="Delivered name"
          description={`Words in braces: ${NAME_WORDS.map((word) => `{${word}}`).join(' ')}. Left empty, files keep their own names.`}
          placeholder="{track} {title}"
          maxLength={200}
          {...form.getInputProps('naming')}
          error={undefined}
        />
        {naming && (
          <p className={`quiet small ${classes.such}`}>
            Such as <span className="figure">{deliveredName(naming, EXAMPLE)}</span>
          </p>
        )}
        <Textarea label="Notes" autosize minRows={1} {...form.getInputProps('notes')} />
        {trouble && (
          <p className="verdict-over small" role="alert">
            {trouble}
          </p>
        )}
        <Group justify="flex-end">
          <Button variant="default" onClick={onCancel}>
            Cancel
          </Button>
          <Button type="submit">{submit}</Button>
        </Group>
      </Stack>
    </form>
  );
}

const numberOrNull = (typed: string | number): number | null => (typed === '' ? null : Number(typed));

function Limits({ limits, onChange }: { limits: readonly Limit[]; onChange(limits: Limit[]): void }) {
  const set = (index: number, part: Partial<Limit>) =>
    onChange(limits.map((limit, i) => (i === index ? { ...limit, ...part } : limit)));
  const free = (Object.keys(LIMITABLE_MEASURES) as LimitableMeasure[]).filter(
    (measure) => !limits.some((limit) => limit.measure === measure),
  );
  return (
    <div>
      <div className={classes.label}>Limits</div>
      <table className={classes.limits}>
        <thead>
          <tr>
            <th>Measure</th>
            <th>At least</th>
            <th>At most</th>
            <th>Aim for</th>
            <th>Required</th>
            <th>
              <VisuallyHidden>Remove</VisuallyHidden>
            </th>
          </tr>
        </thead>
        <tbody>
          {limits.map((limit, index) => {
            const { title, unit, decimals } = LIMITABLE_MEASURES[limit.measure];
            const figure = (key: 'min' | 'max' | 'aim', label: string) => (
              <NumberInput
                size="xs"
                w={96}
                hideControls
                aria-label={`${title}, ${label}`}
                decimalScale={decimals}
                value={limit[key] ?? ''}
                onChange={(typed) =>
                  set(index, { [key]: key === 'aim' ? (numberOrNull(typed) ?? undefined) : numberOrNull(typed) })
                }
              />
            );
            return (
              <tr key={limit.measure}>
                <td>
                  {title} <span className="unit">{unit}</span>
                </td>
                <td>{figure('min', 'at least')}</td>
                <td>{figure('max', 'at most')}</td>
                <td>{WITH_AIM.includes(limit.measure) && figure('aim', 'aim for')}</td>
                <td>
                  <Checkbox
                    size="xs"
                    aria-label={`${title} is required`}
                    checked={limit.required}
                    onChange={(event) => set(index, { required: event.currentTarget.checked })}
                  />
                </td>
                <td>
                  <ActionIcon
                    size="sm"
                    aria-label={`Remove the limit of ${title}`}
                    onClick={() => onChange(limits.filter((_, i) => i !== index))}
                  >
                    <IconTrash size={15} />
                  </ActionIcon>
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
      <Select
        size="xs"
        w={220}
        mt={6}
        aria-label="Add a limit"
        placeholder="Add a limit"
        searchable
        data={free.map((measure) => ({ value: measure, label: LIMITABLE_MEASURES[measure].title }))}
        value={null}
        onChange={(measure) =>
          measure &&
          onChange([...limits, { measure: measure as LimitableMeasure, min: null, max: null, required: true }])
        }
      />
    </div>
  );
}

const CONTAINERS = [
  { value: 'wav', label: 'WAV' },
  { value: 'flac', label: 'FLAC' },
  { value: 'mp3', label: 'MP3' },
  { value: 'opus', label: 'Ogg Opus' },
];
const RATES = [22050, 24000, 32000, 44100, 48000, 88200, 96000];
const MP3_KBPS = [32, 48, 64, 96, 112, 128, 160, 192, 224, 256, 320];
const AS_SOURCE = 'source';

function Output({ output, onChange }: { output: OutputFormat; onChange(output: OutputFormat): void }) {
  const { container, sampleRateHz, channels, bitDepth, bitrateKbps } = output;
  const lossy = isLossy(output);
  const choose = (next: OutputFormat['container']) => {
    const willLose = isLossy({ container: next });
    onChange({
      container: next,
      sampleRateHz:
        next === 'opus' ? 48000 : next === 'mp3' && !(sampleRateHz && sampleRateHz <= 48000) ? 44100 : sampleRateHz,
      channels: willLose ? (channels ?? 1) : channels,
      ...(willLose ? { bitrateKbps: bitrateKbps ?? 128 } : { bitDepth: bitDepth ?? 24 }),
    });
  };
  return (
    <Group align="flex-end" gap="sm">
      <Select
        label="Delivered as"
        size="xs"
        w={110}
        allowDeselect={false}
        data={CONTAINERS}
        value={container}
        onChange={(next) => next && choose(next as OutputFormat['container'])}
      />
      {lossy ? (
        <Select
          label="Bit rate"
          size="xs"
          w={120}
          allowDeselect={false}
          data={MP3_KBPS.map((kbps) => ({ value: String(kbps), label: `${kbps} kbps` }))}
          value={String(bitrateKbps ?? 128)}
          onChange={(next) => next && onChange({ ...output, bitrateKbps: Number(next) })}
        />
      ) : (
        <Select
          label="Bits"
          size="xs"
          w={120}
          allowDeselect={false}
          data={[16, 24, ...(container === 'wav' ? [32] : [])].map((bits) => ({
            value: String(bits),
            label: bits === 32 ? '32 float' : `${bits}`,
          }))}
          value={String(bitDepth ?? 24)}
          onChange={(next) => next && onChange({ ...output, bitDepth: Number(next) as 16 | 24 | 32 })}
        />
      )}
      <Select
        label="Sample rate"
        size="xs"
        w={150}
        allowDeselect={false}
        disabled={container === 'opus'}
        data={[
          ...(lossy ? [] : [{ value: AS_SOURCE, label: 'as the source' }]),
          ...RATES.filter((hz) => container !== 'mp3' || hz <= 48000).map((hz) => ({
            value: String(hz),
            label: `${hz / 1000} kHz`,
          })),
        ]}
        value={sampleRateHz === null ? AS_SOURCE : String(sampleRateHz)}
        onChange={(next) => next && onChange({ ...output, sampleRateHz: next === AS_SOURCE ? null : Number(next) })}
      />
      <Select
        label="Channels"
        size="xs"
        w={140}
        allowDeselect={false}
        data={[
          { value: AS_SOURCE, label: 'as the source' },
          { value: '1', label: 'mono' },
          { value: '2', label: 'stereo' },
        ]}
        value={channels === null ? AS_SOURCE : String(channels)}
        onChange={(next) =>
          next && onChange({ ...output, channels: next === AS_SOURCE ? null : (Number(next) as 1 | 2) })
        }
      />
    </Group>
  );
}
