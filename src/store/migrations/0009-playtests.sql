-- How somebody played elsewhere, as the playing page recorded it; the same record is kept once.
create table playtest (
  id uuid primary key default gen_random_uuid(),
  story_id uuid not null references story on delete cascade,
  name text not null,
  record jsonb not null,
  digest text not null,
  added_at timestamptz not null default now(),
  unique (story_id, digest)
);
