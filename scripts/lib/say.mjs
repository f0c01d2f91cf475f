/** A fault the person at the keyboard can mend: one sentence that says what is wrong and what to do. */
export class SetupError extends Error {}

export const say = (line) => {
  process.stdout.write(`${line}\n`);
};

/** Run a script's main function; a SetupError ends it with its sentence, anything else with a short trace. */
export async function runMain(main) {
  try {
    await main();
  } catch (error) {
    process.stderr.write(error instanceof SetupError ? `${error.message}\n` : `${error?.stack ?? error}\n`);
    process.exitCode = 1;
  }
}
