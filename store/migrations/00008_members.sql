-- +goose Up

-- A person has one role in a school or several at once, may leave and come
-- back, and has the school's own number where it gives one.
alter table memberships add column roles jsonb;
update memberships set roles = jsonb_build_array(role);
alter table memberships alter column roles set not null;
alter table memberships add constraint memberships_roles check (jsonb_typeof(roles) = 'array' and jsonb_array_length(roles) > 0
  and roles <@ '["student", "instructor", "chief", "maintenance", "examiner", "admin"]');
alter table memberships drop column role;
alter table memberships add column active boolean not null default true;
alter table memberships add column number text not null default '';

-- Whoever is invited comes in by a link and a one-time code.
create table invitations (
  school_id uuid not null references schools,
  id uuid not null default gen_random_uuid(),
  email text not null check (email = lower(email)),
  name text not null,
  roles jsonb not null,
  number text not null default '',
  -- What a student begins with: class, engine kind, start type, instructor, day.
  learns jsonb,
  code text not null,
  invited_by uuid not null,
  invited_at timestamptz not null,
  until timestamptz not null,
  used_at timestamptz,
  withdrawn_at timestamptz,
  primary key (school_id, id)
);
alter table invitations enable row level security;
create policy of_school on invitations using (school_id = nullif(current_setting('app.school', true), '')::uuid);
grant select, insert on invitations to jetprimer_app;
grant update (code, until, used_at, withdrawn_at) on invitations to jetprimer_app;

-- Where a school flies from. Schools from before flew from the two fields that
-- the program shipped.
create table bases (
  school_id uuid not null references schools,
  id text not null,
  body jsonb not null,
  primary key (school_id, id)
);
alter table bases enable row level security;
create policy of_school on bases using (school_id = nullif(current_setting('app.school', true), '')::uuid);
grant select, insert, update on bases to jetprimer_app;
insert into bases (school_id, id, body) select s.id, b.body->>'id', b.body from schools s cross join (values
  ('{"id": "XTHW", "name": "Tarn Hollow", "elevationFt": 412, "variationDegEast": 3, "runways": [
    {"name": "02", "headingDegMagnetic": 18, "lengthM": 920, "surface": "asphalt"}, {"name": "20", "headingDegMagnetic": 198, "lengthM": 920, "surface": "asphalt"},
    {"name": "08", "headingDegMagnetic": 81, "lengthM": 610, "surface": "grass"}, {"name": "26", "headingDegMagnetic": 261, "lengthM": 610, "surface": "grass"}],
    "climate": {"meanC": 9, "yearSwingC": 8, "daySwingC": 7, "windFromDeg": 210, "windKt": 9, "spreadC": 4}}'::jsonb),
  ('{"id": "XSTB", "name": "Stell Bay", "elevationFt": 18, "variationDegEast": 3.5, "runways": [
    {"name": "14", "headingDegMagnetic": 142, "lengthM": 760, "surface": "asphalt"}, {"name": "32", "headingDegMagnetic": 322, "lengthM": 760, "surface": "asphalt"}],
    "climate": {"meanC": 11, "yearSwingC": 6, "daySwingC": 4, "windFromDeg": 240, "windKt": 13, "spreadC": 3}}'::jsonb)) as b (body)
  where exists (select from aircraft a where a.school_id = s.id and a.base = b.body->>'id');

-- An aircraft is written down with its hours and notes, and may leave the line.
-- What it came with stays in its column; what changed of it is dated.
alter table aircraft add column hours numeric(7,1) check (hours >= 0);
alter table aircraft add column notes text not null default '';
alter table aircraft add column retired_on date;
create table equipment_changes (
  school_id uuid not null,
  registration text not null,
  from_on date not null,
  equipment jsonb not null,
  changed_by uuid not null references accounts,
  changed_at timestamptz not null,
  primary key (school_id, registration, from_on),
  foreign key (school_id, registration) references aircraft (school_id, registration)
);
alter table equipment_changes enable row level security;
create policy of_school on equipment_changes using (school_id = nullif(current_setting('app.school', true), '')::uuid);
grant select, insert, update on equipment_changes to jetprimer_app;

-- A second factor is a secret, encrypted as signing keys are, and the last step of
-- which a code was used. Whoever is locked out comes back by a one-time code.
alter table accounts add column second bytea;
alter table accounts add column second_used bigint not null default 0;
alter table accounts add column recovery text not null default '';
alter table accounts add column recovery_until timestamptz;
grant update (second, second_used, recovery, recovery_until) on accounts to jetprimer_app;

-- A person sees where they are signed in, and ends it.
alter table sessions add column account_id uuid;
alter table sessions add column began_at timestamptz;
alter table sessions add column address text not null default '';
alter table sessions add column device text not null default '';
create index sessions_account on sessions (account_id) where account_id is not null;
create index seals_signed_by on seals (school_id, signed_by, signed_at);

-- What was done is only ever added to, and is read by the school.
create trigger only_added before update or delete on audit for each row execute function only_added();
create index audit_of_school on audit (school_id, id);

-- A school changes itself and no other: its rows are not guarded by a policy, since
-- they are read before any school is chosen.
grant update (name, time_zone) on schools to jetprimer_app;
-- +goose StatementBegin
create function own_school() returns trigger language plpgsql as $$
begin
  if current_user = 'jetprimer_app' and old.id is distinct from nullif(current_setting('app.school', true), '')::uuid then
    raise exception 'a school changes itself and no other';
  end if;
  return new;
end $$;
-- +goose StatementEnd
create trigger own_school before update on schools for each row execute function own_school();
