import { existsSync } from "node:fs";
import { defineConfig } from "@playwright/test";

const port = 8177;
const chromium = ["/usr/bin/chromium-headless-shell", "/usr/bin/chromium"];
export default defineConfig({
  testDir: "e2e",
  workers: 2,
  // A busy machine must not fail a test: what is waited for is waited for long.
  timeout: 300_000,
  expect: { timeout: 30_000 },
  reporter: [["list"]],
  use: {
    baseURL: `http://127.0.0.1:${port}`,
    viewport: { width: 1280, height: 800 },
    locale: "en-GB",
    launchOptions: {
      executablePath: process.env.CHROMIUM ?? chromium.find((at) => existsSync(at)),
      args: [
        "--no-sandbox",
        "--disable-gpu",
        "--disable-quic",
        "--no-first-run",
        "--disable-background-networking",
        "--disable-component-update",
        "--disable-sync",
        "--disable-default-apps",
        "--disable-dev-shm-usage",
      ],
    },
  },
  // Specs that change nothing share the first server; those of Gather have the second to themselves, those of plans the third, and those
  // that close periods the fourth, those of reports the fifth, and the walk of a month the sixth.
  webServer: [port, port + 1, port + 2, port + 3, port + 4, port + 5].map((at) => ({
    command: `exec bin/turret demo --from bin/demo.db --addr 127.0.0.1:${at}`,
    url: `http://127.0.0.1:${at}/healthz`,
    timeout: 180_000,
    stderr: "ignore",
    gracefulShutdown: { signal: "SIGTERM", timeout: 5000 },
  })),
});
