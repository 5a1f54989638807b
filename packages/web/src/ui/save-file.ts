import { safeName } from '@tonos/core';

/** Hands a file to the browser's own saving. Names from people are no paths. */
export function saveJson(name: string, content: unknown): void {
  saveText(`${safeName(name)}.json`, `${JSON.stringify(content, undefined, 2)}\n`, 'application/json');
}

export function saveText(name: string, text: string, type: string): void {
  const url = URL.createObjectURL(new Blob([text], { type }));
  const link = document.createElement('a');
  link.href = url;
  link.download = name;
  link.click();
  setTimeout(() => URL.revokeObjectURL(url), 10_000);
}
