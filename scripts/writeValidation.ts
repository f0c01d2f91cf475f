import { writeFileSync } from 'node:fs';
import { validationPage } from '../core/validation/page.js';

writeFileSync(new URL('../docs/validation.md', import.meta.url), validationPage());
