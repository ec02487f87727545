/** The commands by name, in the order in which people work. Each loads its libraries when it runs. */
import Acknowledge from './acknowledge.ts';
import Check from './check.ts';
import Compare from './compare.ts';
import Demo from './demo.ts';
import Expect from './expect.ts';
import Explain from './explain.ts';
import Follow from './follow.ts';
import Import from './import.ts';
import Init from './init.ts';
import Media from './media.ts';
import Methods from './methods.ts';
import Overview from './overview.ts';
import Rehearse from './rehearse.ts';
import Review from './review.ts';
import SettingsCommand from './settings.ts';
import Table from './table.ts';
import Traffic from './traffic.ts';
import Versions from './versions.ts';

export const COMMANDS = {
  overview: Overview,
  init: Init,
  import: Import,
  table: Table,
  follow: Follow,
  check: Check,
  acknowledge: Acknowledge,
  methods: Methods,
  media: Media,
  versions: Versions,
  compare: Compare,
  review: Review,
  rehearse: Rehearse,
  traffic: Traffic,
  expect: Expect,
  settings: SettingsCommand,
  explain: Explain,
  demo: Demo,
};
