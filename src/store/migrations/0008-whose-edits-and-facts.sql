-- Which window made a change, so that undo takes back one's own; and what the last survey said of a story.
alter table journal add column author text;
alter table story add column facts jsonb;
alter table story add column facts_revision integer;
