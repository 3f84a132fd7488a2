-- +goose Up

-- What this very aircraft has of its type's optional equipment.
alter table aircraft add column equipment jsonb not null default '[]';

-- The school's own versions of types, lists, layers and memory aids. The body
-- is json and not jsonb: its bytes stay as they were written.
create table library (
  school_id uuid not null references schools,
  kind text not null check (kind in ('type', 'list', 'layer', 'aid')),
  id text not null,
  version integer not null check (version > 0),
  aircraft_type text not null,
  title text not null,
  body json not null,
  status text not null check (status in ('draft', 'reviewed', 'in-force', 'withdrawn')),
  revision integer not null default 1,
  in_force_from date,
  withdrawn_from date,
  written_by uuid not null,
  written_at timestamptz not null,
  reviewed_by uuid,
  reviewed_at timestamptz,
  approved_by uuid,
  approved_at timestamptz,
  withdrawn_by uuid,
  withdrawn_at timestamptz,
  primary key (school_id, kind, id, version),
  check (status in ('draft', 'reviewed') or in_force_from is not null and approved_by is not null),
  check (status <> 'withdrawn' or withdrawn_from is not null)
);
create index library_type on library (school_id, aircraft_type, kind);

-- Who was told of a version, by whom.
create table library_told (
  school_id uuid not null,
  kind text not null,
  id text not null,
  version integer not null,
  account_id uuid not null,
  told_by uuid not null,
  at timestamptz not null,
  primary key (school_id, kind, id, version, account_id),
  foreign key (school_id, kind, id, version) references library (school_id, kind, id, version),
  foreign key (school_id, account_id) references memberships (school_id, account_id)
);

-- A version that was approved may have served a lesson: it stays as it is.
-- +goose StatementBegin
create function approved_stays() returns trigger language plpgsql as $$
begin
  if old.status in ('in-force', 'withdrawn') and (tg_op = 'DELETE' or new.body::text <> old.body::text
      or new.in_force_from <> old.in_force_from or new.status not in ('in-force', 'withdrawn')) then
    raise exception 'version % of % is approved and stays as it is', old.version, old.id;
  end if;
  if tg_op = 'DELETE' then
    return old;
  end if;
  if old.status <> 'draft' and new.body::text <> old.body::text then
    raise exception 'version % of % is no draft', old.version, old.id;
  end if;
  return new;
end $$;
-- +goose StatementEnd
create trigger approved_stays before update or delete on library for each row execute function approved_stays();

-- +goose StatementBegin
do $$
declare t text;
begin
  foreach t in array array['library', 'library_told'] loop
    execute format('alter table %I enable row level security', t);
    execute format('create policy of_school on %I using (school_id = nullif(current_setting(''app.school'', true), '''')::uuid)', t);
  end loop;
end $$;
-- +goose StatementEnd
grant select, insert, update, delete on library to jetprimer_app;
grant select, insert on library_told to jetprimer_app;
