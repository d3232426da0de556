import { defineConfig } from 'drizzle-kit'

export default defineConfig({
  dialect: 'postgresql',
  schema: './store/schema.ts',
  out: './store/migrations',
  casing: 'snake_case',
})
