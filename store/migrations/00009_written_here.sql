-- +goose Up

-- Who wrote on a version, besides who wrote last: the numbers of a type are
-- confirmed by somebody who typed none of them.
alter table library add column writers jsonb not null default '[]';
update library set writers = jsonb_build_array(written_by);

-- A school's policy and its standards are written down, reviewed and brought into
-- force as its lists are. They are of no aircraft type.
alter table library drop constraint library_kind_check;
alter table library add constraint library_kind_check check (kind in ('type', 'list', 'layer', 'aid', 'policy', 'pack'));

-- By which version of the school's policy its standings were derived, 0 for what a
-- school without one of its own goes by, and which elements had become others.
alter table school_feed add column governed json not null default '{}';

-- Standards packs that a school brought in are documents like any other. Their old
-- table is read by programs of the version before, and no longer by this one.
insert into library (school_id, kind, id, version, aircraft_type, title, body, status, in_force_from, written_by, written_at, writers, reviewed_by, reviewed_at, approved_by, approved_at)
  select p.school_id, 'pack', p.id, p.version, '', coalesce(p.body->>'title', p.id), p.body::json, 'in-force', (p.brought_at at time zone s.time_zone)::date,
    p.brought_by, p.brought_at, jsonb_build_array(p.brought_by), p.brought_by, p.brought_at, p.brought_by, p.brought_at
  from packs p join schools s on s.id = p.school_id;

-- When somebody left the school, and when their name was replaced by a pseudonym.
alter table memberships add column left_on date;
alter table memberships add column erased_at timestamptz;
update memberships set left_on = current_date where not active;
grant update (email) on accounts to jetprimer_app;
-- An address stays, unless the name goes with it.
-- +goose StatementBegin
create function address_stays() returns trigger language plpgsql as $$
begin
  if current_user = 'jetprimer_app' and new.email <> old.email and new.email not like '%@erased.invalid' then
    raise exception 'an address stays as it is';
  end if;
  return new;
end $$;
-- +goose StatementEnd
create trigger address_stays before update of email on accounts for each row execute function address_stays();
grant update (name, email) on invitations to jetprimer_app;
grant update (whom) on record_shares to jetprimer_app;
