// Loaded with the first formula that is shown: the typesetter is larger than the page around it.
import 'katex/dist/katex.min.css';

export { default as katex } from 'katex';
