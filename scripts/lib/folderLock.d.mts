/** The lock of a data folder, or who has it. */
export type FolderLock =
  | { readonly taken: true; note(facts: Readonly<Record<string, unknown>>): void; release(): void }
  | { readonly taken: false; readonly holder: { readonly pid: number; readonly address?: string } };
export function lockFolder(home: string): FolderLock;
