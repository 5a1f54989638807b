import type { OrderFile } from '@tonos/core';
import classes from './GroupName.module.css';
import { type Heard, isHeard } from './order-sound.ts';

interface GroupNameProps {
  order: OrderFile;
  id: string;
  heard: Heard;
  onHear(heard: Heard): void;
}

/** What stands before a group's band: its name, how it gives way, and whether it is heard. */
export function GroupName({ order, id, heard, onHear }: GroupNameProps) {
  const name = groupName(order, id);
  const isMute = heard.mute.includes(id);
  const isOnly = heard.only === id;
  const ways = order.under
    .filter(({ group }) => group === id)
    .map(({ of, byDb }) => `\u2212${byDb} dB under ${of.map((one) => groupName(order, one)).join(', ')}`);
  const acts = 48 + 15 * ways.length;
  const mute = isMute ? heard.mute.filter((one) => one !== id) : [...heard.mute, id];
  return (
    <g className={isHeard(heard, id) ? undefined : classes.silent}>
      <text className={classes.name} y={26}>
        {name}
      </text>
      {ways.map((words, i) => (
        <text key={words} className={classes.note} y={42 + 15 * i}>
          {words}
        </text>
      ))}
      <Act label={`Mute ${name}`} word="mute" x={0} y={acts} on={isMute} press={() => onHear({ ...heard, mute })} />
      <Act
        label={`Hear only ${name}`}
        word="only"
        x={42}
        y={acts}
        on={isOnly}
        press={() => onHear({ ...heard, only: isOnly ? null : id })}
      />
    </g>
  );
}

const groupName = ({ groups }: OrderFile, id: string): string => groups.find((group) => group.id === id)?.name || id;

interface ActProps {
  label: string;
  word: string;
  x: number;
  y: number;
  on: boolean;
  press(): void;
}

function Act({ label, word, x, y, on, press }: ActProps) {
  return (
    <g
      className={classes.act}
      role="button"
      tabIndex={0}
      aria-label={label}
      aria-pressed={on}
      onClick={press}
      onKeyDown={(event) => {
        if (event.key !== 'Enter' && event.key !== ' ') return;
        event.preventDefault();
        event.stopPropagation();
        press();
      }}
    >
      <rect x={x} y={y - 14} width={38} height={19} rx={2} />
      <text x={x + 19} y={y}>
        {word}
      </text>
    </g>
  );
}
