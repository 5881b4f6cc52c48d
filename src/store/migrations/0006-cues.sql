-- The list of cues that a story declares.
alter table piece drop constraint piece_list_check;
alter table piece add constraint piece_list_check check
  (list in ('story', 'cast', 'cues', 'ledger', 'quests', 'endings', 'promises', 'routes', 'setAside', 'scenes', 'beats', 'sceneLedger'));
