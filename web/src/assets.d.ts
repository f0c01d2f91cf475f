declare module '*.svg' {
  const url: string;
  export default url;
}
declare module '*.css';
declare module '@fontsource-variable/*';
