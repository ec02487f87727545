/** The tests drive the built program, so it is built from what stands here. */
import { execFileSync } from 'node:child_process';

export default function setup(): void {
  execFileSync(process.execPath, ['scripts/build.mjs'], { stdio: 'inherit' });
}
