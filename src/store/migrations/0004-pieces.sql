-- Stories in pieces: the story's own keys, each item of its lists and each scene, as the JSON text that stands in the
-- document, so that nothing of it can be lost. A piece is never changed: a new version is put beside it, and the old one
-- gets the revision from which on it no longer holds. The story after any revision is one query.
create table piece (
  story_id uuid not null references story on delete cascade,
  -- names the piece in its story, through all its versions; 0: the story's own keys
  key bigint not null check (key >= 0),
  since bigint not null check (since >= 0),
  until bigint check (until > since),
  list text not null check (list in
    ('story', 'cast', 'ledger', 'quests', 'endings', 'promises', 'routes', 'setAside', 'scenes', 'beats', 'sceneLedger')),
  -- the scene that it lies in
  scene bigint,
  -- orders the pieces of one list, as text
  place text collate "C" not null,
  -- lists that are pieces of their own are left empty in it
  body json not null check (json_typeof(body) = 'object'),
  primary key (story_id, key, since),
  check ((key = 0) = (list = 'story')),
  check ((scene is not null) = (list in ('beats', 'sceneLedger')))
);
create unique index piece_now on piece (story_id, list, scene, place) nulls not distinct where until is null;
create unique index piece_once on piece (story_id, key) where until is null;
create index piece_ended on piece (story_id, until) where until is not null;

-- what a card of the library shows
alter table story add column scenes int not null default 0 check (scenes >= 0);
alter table story add column beats int not null default 0 check (beats >= 0);
-- false while a large story is still being put in
alter table story add column ready boolean not null default true;
create index story_shown on story (changed_at desc, id) where deleted_at is null and ready;
