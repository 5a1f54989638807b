import { ActionIcon, Menu, Tooltip } from '@mantine/core';
import { IconHeadphones } from '@tabler/icons-react';
import { useState } from 'react';
import { useAppDispatch, useAppSelector } from '../app/store.ts';
import { sayError } from '../ui/notify.ts';
import { canChooseDevice } from './can-choose-device.ts';
import { listeningSlice } from './listening-slice.ts';

/** The sound devices; browsers keep their names back until a page may use a microphone, so one can be asked for that. */
export function DeviceMenu() {
  const dispatch = useAppDispatch();
  const chosen = useAppSelector((state) => state.listening.deviceId);
  const [devices, setDevices] = useState<MediaDeviceInfo[]>([]);
  if (!canChooseDevice()) return null;
  const look = async () =>
    setDevices(
      (await navigator.mediaDevices.enumerateDevices()).filter(
        ({ kind, deviceId }) => kind === 'audiooutput' && deviceId !== 'default',
      ),
    );
  const askNames = async () => {
    try {
      const stream = await navigator.mediaDevices.getUserMedia({ audio: true });
      for (const track of stream.getTracks()) track.stop();
      await look();
    } catch (error) {
      sayError('The browser gave no names', error);
    }
  };
  const nameless = !devices.some(({ label }) => label);
  const entry = (deviceId: string, label: string) => (
    <Menu.Item
      key={deviceId}
      role="menuitemradio"
      aria-checked={deviceId === chosen}
      fw={deviceId === chosen ? 600 : 400}
      onClick={() => dispatch(listeningSlice.actions.deviceChosen(deviceId))}
    >
      {label}
    </Menu.Item>
  );
  return (
    <Menu position="top-end" onOpen={() => void look().catch(() => {})}>
      <Menu.Target>
        <Tooltip label="Sound device">
          <ActionIcon aria-label="Sound device">
            <IconHeadphones size={18} />
          </ActionIcon>
        </Tooltip>
      </Menu.Target>
      <Menu.Dropdown>
        <Menu.Label>Sound device</Menu.Label>
        {entry('', 'The system\u2019s choice')}
        {devices.filter(({ label }) => label).map(({ deviceId, label }) => entry(deviceId, label))}
        {nameless && (
          <Menu.Item closeMenuOnClick={false} onClick={askNames}>
            Ask the browser for the devices{'\u2019'} names
          </Menu.Item>
        )}
      </Menu.Dropdown>
    </Menu>
  );
}
