/** Boards of unequal phases that are scattered. */
export const BOARDS = 200;
