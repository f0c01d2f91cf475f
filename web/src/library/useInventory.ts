import type { Inventory } from '@yundro/core';
import { useMemo } from 'react';
import { useParts } from './useParts';

/** The library whole; undefined while it is read. */
export function useInventory(): { readonly inventory: Inventory | undefined; readonly fault: string | undefined } {
  const { parts: inductor, fault: a } = useParts('inductor');
  const { parts: capacitor, fault: b } = useParts('capacitor');
  const { parts: mosfet, fault: c } = useParts('mosfet');
  const { parts: diode, fault: d } = useParts('diode');
  const { parts: core, fault: e } = useParts('core');
  const { parts: controller, fault: f } = useParts('controller');
  const inventory = useMemo(
    (): Inventory | undefined =>
      inductor && capacitor && mosfet && diode && core && controller
        ? { inductor, capacitor, mosfet, diode, core, controller }
        : undefined,
    [inductor, capacitor, mosfet, diode, core, controller],
  );
  return { inventory, fault: a ?? b ?? c ?? d ?? e ?? f };
}
