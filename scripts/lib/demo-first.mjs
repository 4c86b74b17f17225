// Before the tests that begin with the demo company: it is built, where it is not there as it would be now.
import { prepareDemo } from './prepare.mjs';

export default function setUp() {
  prepareDemo();
}
