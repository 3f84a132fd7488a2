-- +goose Up

-- Who wrote on a version, besides who wrote last: the numbers of a type are
-- confirmed by somebody who typed none of them.
alter table library add column writers jsonb not null default '[]';
update library set writers = jsonb_build_array(written_by);

-- A school's policy and its standards are written down, reviewed and brought into
-- force as its lists are. They are of no aircraft type.
alter table library drop constraint library_kind_check;
alter table library add constraint library_kind_check check (kind in ('type', 'list', 'layer', 'aid', 'policy', 'pack'));

-- By which version of the school's policy its standings were derived; 0 is what a
-- school without a policy of its own goes by.
alter table school_feed add column policy integer not null default 0;

-- When somebody left the school, and when their name was replaced by a pseudonym.
alter table memberships add column left_on date;
alter table memberships add column erased_at timestamptz;
update memberships set left_on = current_date where not active;
grant update (email) on accounts to jetprimer_app;
grant update (name, email) on invitations to jetprimer_app;
grant update (whom) on record_shares to jetprimer_app;
