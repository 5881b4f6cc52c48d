-- What a step began is found by its revision, by a process that others are ahead of.
create index piece_begun on piece (story_id, since);
