-- Each text in another language is a piece of its own: a translator's edit writes that text, and one of the story's own
-- keys writes none. Stories written before keep them in those keys until they are edited next.
alter table piece drop constraint piece_list_check;
alter table piece add constraint piece_list_check check
  (list in ('story', 'cast', 'cues', 'ledger', 'quests', 'endings', 'promises', 'routes', 'setAside', 'texts', 'scenes',
    'beats', 'sceneLedger'));
