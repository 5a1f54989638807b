import { stepOfKind } from '@tonos/core';
import { useAppDispatch } from '../../app/store.ts';
import { chainEditorSlice, type EditedStep } from './chain-slice.ts';
import { SettingField } from './SettingField.tsx';
import classes from './StepPanel.module.css';
import { settingsOf } from './step-catalogue.ts';

/** A step's settings as a form. What is not written in the chain stands at its default. */
export function StepPanel({ chainId, step: { id, kind, settings } }: { chainId: string; step: EditedStep }) {
  const dispatch = useAppDispatch();
  const definition = stepOfKind(kind);
  if (!definition)
    return (
      <p className={classes.panel}>
        This step comes from another version of Tonos. It is kept as it is, but can’t be run here.
      </p>
    );
  return (
    <div className={classes.panel}>
      <p className={classes.summary}>{definition.summary}</p>
      <div className={classes.fields}>
        {settingsOf(kind).map(([key, schema]) => (
          <SettingField
            key={key}
            schema={schema}
            value={settings[key] ?? schema.default}
            onChange={(value) =>
              value !== settings[key] &&
              dispatch(
                chainEditorSlice.actions.edited({
                  chainId,
                  id,
                  part: { settings: { ...settings, [key]: value } },
                  touched: key,
                }),
              )
            }
          />
        ))}
      </div>
    </div>
  );
}
