import type { Reporter, TestModule } from "vitest/node";

/** Ends a run with a line that is the same wherever tests are counted. */
export default class Summary implements Reporter {
  onTestRunEnd(modules: readonly TestModule[]) {
    const tests = modules.flatMap((module) => [...module.children.allTests()]);
    const count = (state: string) => tests.filter((test) => test.result().state === state).length;
    console.log(`\n${count("passed")} passed, ${count("failed")} failed`);
  }
}
