-- Heavy work that is done beside the pages: what is asked for, in shares that several can work on. The queue only says
-- that there is something to do; what has been done is decided here.
create table job (
  id uuid primary key default gen_random_uuid(),
  kind text not null check (kind in ('survey', 'simulate', 'carry', 'night')),
  -- of which story, as it was after which revision; a night is of all
  story_id uuid references story on delete cascade,
  revision bigint,
  ask text not null,
  state text not null default 'waiting' check (state in ('waiting', 'running', 'done', 'failed', 'cancelled')),
  member_id text,
  made_at timestamptz not null default now(),
  ended_at timestamptz,
  -- what the shares that are done came to
  result text,
  failure text,
  check ((kind = 'night') = (story_id is null)),
  check ((story_id is null) = (revision is null)),
  check ((ended_at is null) = (state in ('waiting', 'running')))
);
create index on job (story_id, made_at desc);

create table job_share (
  job_id uuid not null references job on delete cascade,
  share int not null,
  -- whose turn it is in a night
  story_id uuid references story on delete cascade,
  state text not null default 'waiting' check (state in ('waiting', 'running', 'done', 'failed')),
  -- how often it was begun: what an earlier one comes to does not count
  attempt int not null default 0,
  -- when whoever works on it was last heard of
  beat_at timestamptz,
  done bigint not null default 0,
  total bigint not null default 0,
  result text,
  primary key (job_id, share)
);
create index on job_share (story_id);
create index on job_share (beat_at) where state = 'running';

-- Who is there to work.
create table worker (
  id uuid primary key,
  seen_at timestamptz not null default now()
);
