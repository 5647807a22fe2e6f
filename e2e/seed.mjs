// Seeds the data of the demo once, for browser tests that begin with a copy: node e2e/seed.mjs FOLDER.
import { startServer } from "./app.mjs";

const app = await startServer(process.argv[2]);
await app.stop();
