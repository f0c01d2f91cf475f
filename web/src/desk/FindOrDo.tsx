import { lazy, Suspense, useState } from 'react';
import { Button } from 'react-bootstrap';
import { useHotkeys } from 'react-hotkeys-hook';
import { Icon } from '../shown/Icon';
import { StationBoundary } from '../shown/StationBoundary';

/** Loaded when they are first asked for. */
const ShortcutList = lazy(async () => ({ default: (await import('./ShortcutList')).ShortcutList }));
const Palette = lazy(async () => ({ default: (await import('./Palette')).Palette }));

/** The door to the palette, and the keys that open it and the list of shortcuts. */
export function FindOrDo() {
  const [open, setOpen] = useState<'palette' | 'shortcuts'>();
  useHotkeys('mod+k', () => setOpen('palette'), { preventDefault: true, enableOnFormTags: true });
  useHotkeys('/', () => setOpen('palette'), { preventDefault: true, useKey: true, enableOnFormTags: ['radio'] });
  useHotkeys('?', () => setOpen('shortcuts'), { preventDefault: true, useKey: true, enableOnFormTags: ['radio'] });
  const close = (): void => setOpen(undefined);
  return (
    <>
      <Button
        variant="outline-secondary"
        aria-keyshortcuts="Control+K"
        title="Find or do anything by name: Ctrl K, or /. All shortcuts: ?"
        onClick={() => setOpen('palette')}
      >
        <Icon shape="search" /> Find or do
      </Button>
      {open !== undefined && (
        <StationBoundary what={open === 'palette' ? 'palette' : 'list of shortcuts'} resetKey={open}>
          <Suspense fallback={null}>
            {open === 'palette' ? <Palette onClose={close} /> : <ShortcutList onClose={close} />}
          </Suspense>
        </StationBoundary>
      )}
    </>
  );
}
