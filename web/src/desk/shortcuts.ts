/** Every shortcut, as it is listed. */
export const SHORTCUTS: readonly (readonly [keys: string, does: string])[] = [
  ['Ctrl K or /', 'find or do anything by name'],
  ['?', 'this list'],
  ['Alt 1 to Alt 8', 'the stations, in the order of the rail'],
  ['[ and ]', 'the corner before, the corner after'],
  ['Ctrl Z, Ctrl Shift Z', 'undo, redo'],
  ['arrow keys in a field', 'the next preferred value, or the next digit'],
  ['Enter, Escape in a field', 'take what was typed, withdraw it'],
  ['arrow keys in the corner grid', 'the neighbouring corner'],
  ['arrow keys on a picture', 'read it off; with Shift ten steps at once'],
];
