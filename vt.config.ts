import { defineConfig } from "vitest/config";
export default defineConfig({ test: { include: ["app/**/*.test.ts","app/**/*.test.tsx","core/**/*.test.ts","server/**/*.test.ts"], maxWorkers: 1, testTimeout: 120000 } });
