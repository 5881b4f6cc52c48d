-- Who works here, what they may do with which story, and what was done to either. Empty where one works alone. The ids
-- are texts, as whoever keeps the sign-in makes them.
create table member (
  id text primary key,
  name text not null check (name <> ''),
  email text not null unique,
  email_verified boolean not null default false,
  image text,
  -- looks after the server: its members, their roles, every story
  is_owner boolean not null default false,
  -- the name stays in the history of what they did
  left_at timestamptz,
  created_at timestamptz not null default now(),
  updated_at timestamptz not null default now()
);

create table member_session (
  id text primary key,
  member_id text not null references member on delete cascade,
  token text not null unique,
  expires_at timestamptz not null,
  ip_address text,
  user_agent text,
  created_at timestamptz not null default now(),
  updated_at timestamptz not null default now()
);
create index on member_session (member_id);

-- By what a member signs in: a password, or an account with a provider.
create table member_account (
  id text primary key,
  member_id text not null references member on delete cascade,
  account_id text not null,
  provider_id text not null,
  access_token text,
  refresh_token text,
  id_token text,
  access_token_expires_at timestamptz,
  refresh_token_expires_at timestamptz,
  scope text,
  password text,
  created_at timestamptz not null default now(),
  updated_at timestamptz not null default now(),
  unique (provider_id, account_id)
);
create index on member_account (member_id);

create table member_verification (
  id text primary key,
  identifier text not null,
  value text not null,
  expires_at timestamptz not null,
  created_at timestamptz not null default now(),
  updated_at timestamptz not null default now()
);
create index on member_verification (identifier);

-- How often something was tried.
create table attempt (
  id text primary key,
  key text not null unique,
  count int not null,
  last_request bigint not null
);

-- What all processes have in common; made once.
create table setting (
  name text primary key,
  value text not null
);

-- What every member may do with a story; nothing where it is null.
alter table story add column everyone text check (everyone in ('reader', 'commentator', 'writer'));
update story set everyone = 'reader' where sample is not null;

create table story_role (
  story_id uuid not null references story on delete cascade,
  member_id text not null references member on delete cascade,
  role text not null check (role in ('reader', 'commentator', 'writer', 'owner')),
  primary key (story_id, member_id)
);
create index on story_role (member_id);

-- Links by which somebody comes in (join) or sets a new password; of the link's key only the digest is kept.
create table invitation (
  id uuid primary key default gen_random_uuid(),
  digest text not null unique,
  kind text not null check (kind in ('join', 'password')),
  note text not null default '',
  made_by text not null references member,
  made_at timestamptz not null default now(),
  ends_at timestamptz not null,
  used_at timestamptz,
  -- whose new password it is, or who came in by it
  member_id text references member,
  story_id uuid references story on delete cascade,
  role text check (role in ('reader', 'commentator', 'writer', 'owner')),
  as_owner boolean not null default false,
  check ((story_id is null) = (role is null)),
  check (kind = 'join' or member_id is not null)
);

-- Keys for programs, which may do what their member may, or less, until they end.
create table member_token (
  id uuid primary key default gen_random_uuid(),
  member_id text not null references member on delete cascade,
  digest text not null unique,
  name text not null,
  may_write boolean not null,
  story_id uuid references story on delete cascade,
  made_at timestamptz not null default now(),
  ends_at timestamptz not null,
  used_at timestamptz
);
create index on member_token (member_id);

-- Who did what to accounts, roles and stories. What it is about stands there by name, as it was called then.
create table audit (
  id uuid primary key default gen_random_uuid(),
  at timestamptz not null default now(),
  member_id text,
  -- who did it, and what
  who text not null,
  deed text not null,
  about text not null default '',
  story_id uuid,
  address text
);
create index on audit (at desc, id);

-- Which member made a change.
alter table journal add column member_id text;
