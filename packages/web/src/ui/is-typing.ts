/** Whether a key that is pressed there is text, or belongs to a dialog. */
export const isTyping = (target: EventTarget | null): boolean =>
  target instanceof HTMLElement &&
  target.closest('input:not([type=checkbox], [type=radio]), textarea, select, [contenteditable], [role=dialog]') !==
    null;
