const KEY = 'tonos.person';

/** What the person at this browser is called; colleagues see it beside what was kept. Empty until they said it. */
export const personName = (): string => localStorage.getItem(KEY) ?? '';

export const rememberPerson = (name: string): void => localStorage.setItem(KEY, name.trim());
