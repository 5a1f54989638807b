import { type Me, type Role, reaches } from '@tonos/contract';
import { api } from '../api/api.ts';

/** Who is at this page; undefined until the server said it. */
export function useMe(): Me | undefined {
  return api.useMeQuery().data;
}

/** Whether one's role reaches as far: what it does not reach is not offered. The server looks at every call by itself. */
export function useMay(least: Role): boolean {
  const me = useMe();
  return !me || reaches(me.role, least);
}
