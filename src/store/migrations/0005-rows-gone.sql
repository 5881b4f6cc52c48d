-- What 0004 has put into pieces.
drop view story_words;
drop table set_aside, effect, rule, variant, line, choice, ask, beat, scene, route_decision, route, promise, ending,
  quest_move, quest_stage, quest, ledger_entry, cast_member cascade;
drop sequence row_key;
drop domain address_id;
alter table story drop column start, drop column notes, drop column extra;
alter table journal drop column change, drop column inverse;
