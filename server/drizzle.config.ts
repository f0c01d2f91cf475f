import { defineConfig } from 'drizzle-kit';

export default defineConfig({ dialect: 'postgresql', schema: './server/src/tables.ts', out: './server/drizzle' });
