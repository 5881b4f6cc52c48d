-- What members say to each other about a story: threads, each about something in it, and the comments of each.
create table thread (
  id uuid primary key default gen_random_uuid(),
  story_id uuid not null references story on delete cascade,
  -- what it is about, by its address; it follows renames and moves
  topic text not null,
  -- what was about to be talked of, as it read then
  quote text not null default '',
  -- where a row is gone that it was about: which one, and what it said, in case it comes back
  lost_topic text,
  lost_text text,
  -- who is to see to it
  given_to text references member,
  done_at timestamptz,
  done_by text references member,
  made_at timestamptz not null default now(),
  check ((lost_topic is null) = (lost_text is null)),
  check ((done_at is null) = (done_by is null))
);
create index on thread (story_id, made_at);

create table comment (
  id uuid primary key default gen_random_uuid(),
  thread_id uuid not null references thread on delete cascade,
  member_id text not null references member,
  text text not null check (text <> ''),
  -- ids of members who are meant
  mentions text[] not null default '{}',
  made_at timestamptz not null default now()
);
create index on comment (thread_id, made_at);

-- When a member was last at a story, and which revision they saw.
create table visit (
  story_id uuid not null references story on delete cascade,
  member_id text not null references member on delete cascade,
  revision bigint not null,
  at timestamptz not null default now(),
  primary key (story_id, member_id)
);
