-- The glossary of a story, and what was recorded of its lines.
alter table piece drop constraint piece_list_check;
alter table piece add constraint piece_list_check check
  (list in ('story', 'cast', 'cues', 'ledger', 'quests', 'endings', 'promises', 'routes', 'setAside', 'terms', 'recordings',
    'texts', 'scenes', 'beats', 'sceneLedger'));
