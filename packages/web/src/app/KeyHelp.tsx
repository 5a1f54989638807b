import { Modal, Switch } from '@mantine/core';
import { useLocalStorage } from '@mantine/hooks';
import classes from './KeyHelp.module.css';
import { PLAIN_KEYS } from './plain-keys.ts';

const KEYS: readonly [place: string, keys: readonly [keys: string[], act: string][]][] = [
  [
    'Everywhere',
    [
      [['g', 'd'], 'today'],
      [['g', 't'], 'titles'],
      [['g', 'c'], 'chains'],
      [['g', 'a'], 'targets'],
      [['g', 'r'], 'runs'],
      [['g', 's'], 'storage'],
      [['g', 'x'], 'trash'],
      [['i', 'a \u2026 z'], 'what lies at the letter'],
      [['?'], 'these keys'],
    ],
  ],
  [
    'Listening',
    [
      [['Space'], 'play, pause'],
      [[','], 'back 5 s'],
      [['.'], 'on 5 s'],
      [['s'], 'source'],
      [['r'], 'result'],
    ],
  ],
  [
    'Title',
    [
      [['n'], 'start a run'],
      [['u'], 'choose files to add'],
      [['/'], 'show only some'],
      [['\u2191', '\u2193'], 'from row to row'],
      [['Enter'], 'play the row'],
      [['x'], 'choose the row'],
      [['e'], 'rename the row'],
      [['o'], 'open the row'],
    ],
  ],
  [
    'Recording',
    [
      [['+'], 'closer'],
      [['\u2212'], 'further'],
      [['0'], 'the whole'],
      [['\u2190'], 'earlier'],
      [['\u2192'], 'later'],
      [[']'], 'next recording'],
      [['['], 'the one before'],
      [['Shift', '\u2190 \u2192'], 'choose a stretch, with Alt in fine steps'],
      [['Shift', '\u2191 \u2193'], 'choose frequencies of it'],
      [['o'], 'move its other end'],
      [['t'], 'type where it is'],
      [['m'], 'mark this place'],
      [['w'], 'write a note on what was just heard'],
      [['n'], 'to the next complaint'],
      [['p'], 'to the complaint before'],
      [['l'], 'repeat what is chosen'],
      [['z'], 'closer to it'],
      [['b'], 'turn the box down'],
      [['d'], 'take it out'],
      [['v'], 'room tone over it'],
      [['q'], 'a pick-up over it'],
      [['e'], 'open a pause'],
      [['j'], 'to the next cut'],
      [['y'], 'to the next pause or breath, where these are gone through'],
      [['Enter'], 'move the cut to what is chosen'],
      [['u'], 'as it was recorded, or cut'],
      [['Ctrl', 'z'], 'undo'],
    ],
  ],
  [
    'Chain',
    [
      [['a'], 'add a step'],
      [['\u2191'], 'step above'],
      [['\u2193'], 'step below'],
      [['Enter'], 'open or close its settings'],
      [['Alt', '\u2191'], 'move it up'],
      [['Alt', '\u2193'], 'move it down'],
      [['o'], 'switch it on or off'],
      [['h'], 'hold it: change it without hearing, or let it go'],
      [['Delete'], 'take it out'],
      [['Ctrl', 'z'], 'undo'],
      [['Ctrl', 'Shift', 'z'], 'redo'],
      [['Ctrl', 'c'], 'copy the step'],
      [['Ctrl', 'v'], 'paste steps after it'],
      [['k'], 'keep as a revision'],
      [['f'], 'hear it up to the step'],
      [['c'], 'hear the whole chain'],
      [['x'], 'hear what the step takes away'],
      [['b'], 'hear the source while held'],
    ],
  ],
  [
    'Running order',
    [
      [['a'], 'add a part'],
      [['\u2191', '\u2193'], 'from part to part'],
      [['Alt', '\u2191 \u2193'], 'move the row'],
      [['\u2190', '\u2192'], 'on a plate: earlier, later; with Shift by 1 s, with Alt by 0.01 s'],
      [['Delete'], 'take the part out'],
      [['Ctrl', 'z'], 'undo'],
      [['Ctrl', 'Shift', 'z'], 'redo'],
      [['k'], 'keep as a revision'],
      [['n'], 'run it'],
      [['l'], 'listen from the part'],
    ],
  ],
];

export function KeyHelp({ opened, onClose }: { opened: boolean; onClose(): void }) {
  const [plain, setPlain] = useLocalStorage({ key: PLAIN_KEYS, defaultValue: true });
  return (
    <Modal opened={opened} onClose={onClose} title="Keys" size={960}>
      <Switch
        mb="md"
        label="Keys that are one character alone"
        description="Switched off, only those with Ctrl or Alt, arrows and the like are heard, in this browser."
        checked={plain}
        onChange={(event) => setPlain(event.currentTarget.checked)}
      />
      <div className={classes.columns}>
        {KEYS.map(([place, keys]) => (
          <section key={place}>
            <h2 className={classes.place}>{place}</h2>
            <dl className={classes.list}>
              {keys.map(([combination, act]) => (
                <div key={act} className={classes.row}>
                  <dt>
                    {combination.map((key) => (
                      <kbd key={key}>{key}</kbd>
                    ))}
                  </dt>
                  <dd>{act}</dd>
                </div>
              ))}
            </dl>
          </section>
        ))}
      </div>
    </Modal>
  );
}
