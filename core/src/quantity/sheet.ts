/** A sheet to print: sections of lines, each a name and what stands beside it, or a sentence alone. @public */
export interface Sheet {
  readonly title: string;
  readonly sections: readonly {
    readonly heading: string;
    readonly lines: readonly (readonly [name: string, value: string] | string)[];
  }[];
}
