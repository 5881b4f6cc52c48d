-- Named versions: a revision of a story that somebody gave a name. The story as it was then is
-- worked out from the journal, so a version costs a row.
create table version (
  id uuid primary key default gen_random_uuid(),
  story_id uuid not null references story on delete cascade,
  revision bigint not null check (revision >= 0),
  name text not null check (name <> ''),
  made_at timestamptz not null default now()
);

create index on version (story_id);

-- Full-text search over all that a story says, is called and is noted with. 'simple' takes every
-- word as it is written, so that it serves stories in any language.
create index line_words on line using gin (to_tsvector('simple', coalesce(text, '') || ' ' || coalesce(notes, '')));
create index choice_words on choice using gin (to_tsvector('simple', text || ' ' || coalesce(notes, '')));
create index beat_words on beat using gin (to_tsvector('simple', replace(id, '_', ' ') || ' ' || coalesce(notes, '')));

-- One row for everything that can be found: which list it is in, its address, its words.
create view story_words as
  select line.story_id, 'line' as kind, scene.id || '.' || beat.id as address, coalesce(line.text, '') as text, line.notes, line.speaker as who,
    to_tsvector('simple', coalesce(line.text, '') || ' ' || coalesce(line.notes, '')) as words,
    scene.position as scene_position, beat.position as beat_position, 1 as part, coalesce(parent.position, line.position) as position
  from line
  left join variant on variant.key = line.variant_key
  left join line parent on parent.key = variant.line_key
  join beat on beat.key = coalesce(line.beat_key, parent.beat_key)
  join scene on scene.key = beat.scene_key
  union all
  select choice.story_id, 'choice', scene.id || '.' || beat.id || '.' || choice.id, choice.text, choice.notes, choice.who,
    to_tsvector('simple', choice.text || ' ' || coalesce(choice.notes, '')), scene.position, beat.position, 2, choice.position
  from choice join beat on beat.key = choice.beat_key join scene on scene.key = beat.scene_key
  union all
  select ask.story_id, 'question', scene.id || '.' || beat.id, ask.prompt, ask.notes, null,
    to_tsvector('simple', ask.prompt || ' ' || coalesce(ask.notes, '')), scene.position, beat.position, 3, 0
  from ask join beat on beat.key = ask.beat_key join scene on scene.key = beat.scene_key
  union all
  select beat.story_id, 'beat', scene.id || '.' || beat.id, replace(beat.id, '_', ' '), beat.notes, null,
    to_tsvector('simple', replace(beat.id, '_', ' ') || ' ' || coalesce(beat.notes, '')), scene.position, beat.position, 0, 0
  from beat join scene on scene.key = beat.scene_key
  union all
  select story_id, 'scene', id, title, notes, null, to_tsvector('simple', title || ' ' || coalesce(notes, '')), position, -1, 0, 0 from scene
  union all
  select story_id, 'person', id, name, notes, null, to_tsvector('simple', name || ' ' || coalesce(notes, '')), -1, -1, 0, position from cast_member
  union all
  select story_id, 'entry', id, replace(id, '_', ' '), notes, null, to_tsvector('simple', replace(id, '_', ' ') || ' ' || coalesce("group", '') || ' ' || coalesce(notes, '')), -1, -1, 1, position from ledger_entry
  union all
  select story_id, 'quest', id, name, notes, null, to_tsvector('simple', name || ' ' || coalesce(notes, '')), -1, -1, 2, position from quest
  union all
  select stage.story_id, 'stage', quest.id || '.' || stage.id, stage.name, stage.notes, null, to_tsvector('simple', stage.name || ' ' || coalesce(stage.notes, '')), -1, -1, 3, stage.position
  from quest_stage stage join quest on quest.key = stage.quest_key
  union all
  select story_id, 'ending', id, name, notes, null, to_tsvector('simple', name || ' ' || coalesce(notes, '')), -1, -1, 4, position from ending;
