-- Stories in rows. Every row of a story carries its story_id, so that one story can be loaded with
-- one query a table; `position` orders the rows of one parent. Ids may stand twice (that is a
-- finding, not a fault of the file), so rows have keys of their own. `extra` holds keys that this
-- version does not know, and empty lists, which rows can't show.

create sequence row_key;

create domain address_id as text check (value ~ '^[a-z][a-z0-9_]{0,63}$');

create table story (
  id uuid primary key default gen_random_uuid(),
  title text not null,
  language text not null,
  start text not null,
  notes text,
  extra jsonb not null default '{}',
  revision bigint not null default 0 check (revision >= 0),
  sample text unique,
  created_at timestamptz not null default now(),
  changed_at timestamptz not null default now(),
  deleted_at timestamptz
);

create table cast_member (
  key bigint primary key,
  story_id uuid not null references story on delete cascade,
  position int not null check (position >= 0),
  id address_id not null,
  name text not null,
  notes text,
  extra jsonb not null default '{}',
  unique (story_id, position) deferrable initially deferred
);

create table scene (
  key bigint primary key,
  story_id uuid not null references story on delete cascade,
  position int not null check (position >= 0),
  id address_id not null,
  title text not null,
  notes text,
  extra jsonb not null default '{}',
  unique (story_id, position) deferrable initially deferred
);

create table ledger_entry (
  key bigint primary key,
  story_id uuid not null references story on delete cascade,
  scene_key bigint references scene on delete cascade,
  position int not null check (position >= 0),
  id address_id not null,
  kind text not null check (kind in ('flag', 'switch', 'counter', 'item', 'text')),
  initial jsonb,
  positions jsonb check ((positions is not null) = (kind = 'switch')),
  min bigint check ((min is not null) = (kind = 'counter')),
  max bigint check ((max is not null) = (kind in ('counter', 'item'))),
  "group" text,
  notes text,
  extra jsonb not null default '{}',
  unique nulls not distinct (story_id, scene_key, position) deferrable initially deferred
);

create table quest (
  key bigint primary key,
  story_id uuid not null references story on delete cascade,
  position int not null check (position >= 0),
  id address_id not null,
  name text not null,
  notes text,
  extra jsonb not null default '{}',
  unique (story_id, position) deferrable initially deferred
);

create table quest_stage (
  key bigint primary key,
  story_id uuid not null references story on delete cascade,
  quest_key bigint not null references quest on delete cascade,
  position int not null check (position >= 0),
  id address_id not null,
  name text not null,
  outcome text check (outcome in ('success', 'failure')),
  notes text,
  extra jsonb not null default '{}',
  unique (quest_key, position) deferrable initially deferred
);

create table quest_move (
  key bigint primary key,
  story_id uuid not null references story on delete cascade,
  quest_key bigint not null references quest on delete cascade,
  position int not null check (position >= 0),
  from_stage text not null,
  to_stage text not null,
  unique (quest_key, position) deferrable initially deferred
);

create table ending (
  key bigint primary key,
  story_id uuid not null references story on delete cascade,
  position int not null check (position >= 0),
  id address_id not null,
  name text not null,
  notes text,
  extra jsonb not null default '{}',
  unique (story_id, position) deferrable initially deferred
);

create table beat (
  key bigint primary key,
  story_id uuid not null references story on delete cascade,
  scene_key bigint not null references scene on delete cascade,
  position int not null check (position >= 0),
  id address_id not null,
  place boolean,
  ending text,
  notes text,
  extra jsonb not null default '{}',
  unique (scene_key, position) deferrable initially deferred
);

create table ask (
  key bigint primary key,
  story_id uuid not null references story on delete cascade,
  beat_key bigint not null unique references beat on delete cascade,
  "into" text not null,
  prompt text not null,
  suggest jsonb,
  notes text,
  extra jsonb not null default '{}'
);

create table choice (
  key bigint primary key,
  story_id uuid not null references story on delete cascade,
  beat_key bigint not null references beat on delete cascade,
  position int not null check (position >= 0),
  id address_id not null,
  text text not null,
  who text,
  "when" text,
  closed text check (closed in ('hide', 'show')),
  once boolean,
  "to" text,
  notes text,
  extra jsonb not null default '{}',
  unique (beat_key, position) deferrable initially deferred
);

create table line (
  key bigint primary key,
  story_id uuid not null references story on delete cascade,
  beat_key bigint references beat on delete cascade,
  variant_key bigint,
  position int not null check (position >= 0),
  speaker text,
  manner text check (manner in ('speech', 'action', 'thought', 'narration')),
  text text,
  "when" text,
  notes text,
  extra jsonb not null default '{}',
  check ((beat_key is null) <> (variant_key is null)),
  -- a line without text is a group of variants, and those stand in beats only
  check (text is not null or beat_key is not null),
  unique nulls not distinct (beat_key, variant_key, position) deferrable initially deferred
);

create table variant (
  key bigint primary key,
  story_id uuid not null references story on delete cascade,
  line_key bigint not null references line on delete cascade,
  position int not null check (position >= 0),
  "when" text,
  notes text,
  extra jsonb not null default '{}',
  unique (line_key, position) deferrable initially deferred
);

alter table line add foreign key (variant_key) references variant on delete cascade;

create table rule (
  key bigint primary key,
  story_id uuid not null references story on delete cascade,
  beat_key bigint references beat on delete cascade,
  choice_key bigint references choice on delete cascade,
  role text not null check (role in ('redirects', 'arrive', 'onward', 'to')),
  position int not null check (position >= 0),
  "when" text,
  "to" text,
  notes text,
  extra jsonb not null default '{}',
  check ((beat_key is null) = (role = 'to') and (choice_key is null) <> (role = 'to')),
  check ((role = 'arrive') = ("to" is null)),
  unique nulls not distinct (beat_key, choice_key, role, position) deferrable initially deferred
);

create table effect (
  key bigint primary key,
  story_id uuid not null references story on delete cascade,
  rule_key bigint references rule on delete cascade,
  line_key bigint references line on delete cascade,
  choice_key bigint references choice on delete cascade,
  position int not null check (position >= 0),
  source text not null,
  check (num_nonnulls(rule_key, line_key, choice_key) = 1)
);

create table promise (
  key bigint primary key,
  story_id uuid not null references story on delete cascade,
  position int not null check (position >= 0),
  id address_id not null,
  kind text not null check (kind in ('never', 'always', 'possible', 'stillPossible', 'inOrder')),
  holds text check ((holds is not null) = (kind <> 'inOrder')),
  "while" text,
  "first" text check (("first" is not null) = (kind = 'inOrder')),
  "then" text check (("then" is not null) = (kind = 'inOrder')),
  notes text,
  extra jsonb not null default '{}',
  unique (story_id, position) deferrable initially deferred
);

create table route (
  key bigint primary key,
  story_id uuid not null references story on delete cascade,
  position int not null check (position >= 0),
  id address_id not null,
  name text not null,
  expect jsonb,
  notes text,
  extra jsonb not null default '{}',
  unique (story_id, position) deferrable initially deferred
);

create table route_decision (
  key bigint primary key,
  story_id uuid not null references story on delete cascade,
  route_key bigint not null references route on delete cascade,
  position int not null check (position >= 0),
  choice text,
  at text,
  word text,
  extra jsonb not null default '{}',
  check ((choice is null) <> (at is null) and (at is null) = (word is null)),
  unique (route_key, position) deferrable initially deferred
);

-- Loading a story, and deleting a parent's rows, must not read whole tables.
create index on quest_stage (story_id);
create index on quest_move (story_id);
create index on beat (story_id);
create index on ask (story_id);
create index on choice (story_id);
create index on line (story_id);
create index on line (variant_key);
create index on variant (story_id);
create index on rule (story_id);
create index on rule (choice_key);
create index on effect (story_id);
create index on effect (rule_key);
create index on effect (line_key);
create index on effect (choice_key);
create index on ledger_entry (scene_key);
create index on route_decision (story_id);

-- Append-only: what was done to each story, with what takes it back.
create table journal (
  story_id uuid not null references story on delete cascade,
  revision bigint not null check (revision > 0),
  made_at timestamptz not null default now(),
  kind text not null check (kind in ('edit', 'undo', 'redo')),
  -- the revision that an undo took back, or that a redo brought back
  target bigint,
  -- names the request, so that one sent twice is carried out once
  request_id uuid not null,
  summary text not null,
  change jsonb not null,
  inverse jsonb not null,
  primary key (story_id, revision),
  foreign key (story_id, target) references journal,
  check ((kind = 'edit') = (target is null)),
  unique (story_id, request_id)
);

create function journal_is_append_only() returns trigger language plpgsql as $$
begin
  raise exception 'the journal is append-only';
end
$$;

create trigger journal_append_only before update on journal
  for each row execute function journal_is_append_only();
