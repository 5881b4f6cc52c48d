-- What the last survey of a story said, so that whoever opens the story sees it at once. It can be worked out anew, so
-- it is in no backup.
create table story_survey (
  story_id uuid primary key references story on delete cascade,
  revision bigint not null,
  -- JSON
  said text not null
);
