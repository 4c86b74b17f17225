// Builds one project of the web (web/angular.json) with Angular's builder; the process ends when it has.
import { existsSync, rmSync } from 'node:fs';
import { createRequire } from 'node:module';
import { join } from 'node:path';
import { Architect } from '@angular-devkit/architect';
import { WorkspaceNodeModulesArchitectHost } from '@angular-devkit/architect/node/index.js';
import { logging, schema, workspaces } from '@angular-devkit/core';
import { NodeJsSyncHost } from '@angular-devkit/core/node/index.js';
import { root } from './prepare.mjs';

const project = process.argv[2] ?? 'terrace';
const web = join(root, 'web');
const output = join(web, 'dist', project);
rmSync(output, { recursive: true, force: true });
process.chdir(web);

const { workspace } = await workspaces.readWorkspace(web, workspaces.createWorkspaceHost(new NodeJsSyncHost()));
const registry = new schema.CoreSchemaRegistry();
registry.addPostTransform(schema.transforms.addUndefinedDefaults);
const architect = new Architect(new WorkspaceNodeModulesArchitectHost(workspace, web), registry);
const logger = new logging.Logger('web');
const said = [];
logger.subscribe(({ message }) => said.push(message));
const build = await architect.scheduleTarget({ project, target: 'build' }, {}, { logger });
const { success } = await build.lastOutput;
const whole = success && existsSync(join(output, 'browser/index.html'));
if (!whole || process.env.TERRACE_BUILD_SAYS) process.stderr.write(`${said.join('\n')}\n`);
await build.stop();
// The builder's bundler is a process of its own, which complains where it is left alone.
const ofBuilder = createRequire(createRequire(import.meta.url).resolve('@angular/build/package.json'));
await ofBuilder('esbuild').stop();
// The builder's own threads would keep the process from ending on machines with few cores.
process.exit(whole ? 0 : 1);
