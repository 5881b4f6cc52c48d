-- Versions that players have: what becomes of their saves is looked at with every edit.
alter table version add column released_at timestamptz;
