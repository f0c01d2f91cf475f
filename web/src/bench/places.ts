/** A place in words: `gate, highSide` is the gate of the high side. */
export const placeWords = (name: string): string => name.replace(/([A-Z])/g, (letter) => ` ${letter.toLowerCase()}`);
