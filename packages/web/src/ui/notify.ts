import { notifications } from '@mantine/notifications';
import { reasonOf } from '../api/reason-of.ts';

export const sayError = (title: string, error: unknown) =>
  notifications.show({
    color: 'over',
    title,
    message: error instanceof Error ? error.message : reasonOf(error),
    autoClose: 12_000,
  });

export const say = (message: string) => notifications.show({ message, autoClose: 4000 });
