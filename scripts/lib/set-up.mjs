// One part of the set-up as a process of its own, so that it can go on beside others: `node scripts/lib/set-up.mjs browser`.
import { prepareBrowser, prepareDemo, prepareEmptyPage, prepareServer, prepareWeb } from './prepare.mjs';

const parts = {
  browser: prepareBrowser,
  build: () => {
    prepareServer();
    prepareWeb();
    prepareDemo();
    prepareEmptyPage();
  },
  demo: prepareDemo,
};
parts[process.argv[2]]();
