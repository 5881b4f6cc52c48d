-- Findings that a designer has looked at and does not want to see again, with the reason.
create table set_aside (
  key bigint primary key,
  story_id uuid not null references story on delete cascade,
  position int not null check (position >= 0),
  id address_id not null,
  kind text not null,
  about jsonb not null,
  reason text not null,
  notes text,
  extra jsonb not null default '{}',
  unique (story_id, position) deferrable initially deferred
);
