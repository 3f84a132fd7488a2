-- +goose Up

-- Tables without a tenant: a person may belong to several schools, and a
-- session exists before the school is known. Everything else carries
-- school_id in its key and is guarded by row-level security.
create table schools (
  id uuid primary key check (id <> '00000000-0000-0000-0000-000000000000'),
  name text not null,
  created_at timestamptz not null
);

create table accounts (
  id uuid primary key check (id <> '00000000-0000-0000-0000-000000000000'),
  email text not null unique check (email = lower(email)),
  name text not null,
  password text not null
);

create table sessions (
  token text primary key,
  data bytea not null,
  expiry timestamptz not null
);
create index sessions_expiry on sessions (expiry);

create table login_attempts (
  key text not null,
  at timestamptz not null
);
create index login_attempts_key on login_attempts (key, at);

create table memberships (
  school_id uuid not null references schools,
  account_id uuid not null references accounts,
  role text not null check (role in ('student', 'instructor', 'chief', 'maintenance', 'examiner', 'admin')),
  primary key (school_id, account_id)
);
create index memberships_account on memberships (account_id);

create table students (
  school_id uuid not null references schools,
  id uuid not null,
  instructor_id uuid not null,
  class text not null,
  engine_kind text not null,
  start_type text not null,
  started_on date not null,
  primary key (school_id, id),
  foreign key (school_id, id) references memberships (school_id, account_id),
  foreign key (school_id, instructor_id) references memberships (school_id, account_id)
);

-- What an examiner may read: the record of one student, until a day.
create table shares (
  school_id uuid not null references schools,
  student_id uuid not null,
  examiner_id uuid not null,
  until date not null,
  primary key (school_id, student_id, examiner_id),
  foreign key (school_id, student_id) references students (school_id, id),
  foreign key (school_id, examiner_id) references memberships (school_id, account_id)
);

create table aircraft (
  school_id uuid not null references schools,
  registration text not null,
  type text not null,
  base text not null,
  elevation_ft integer not null,
  primary key (school_id, registration)
);

create table packs (
  school_id uuid not null references schools,
  id text not null,
  version integer not null,
  body jsonb not null,
  brought_by uuid not null,
  brought_at timestamptz not null,
  primary key (school_id, id, version)
);

create table lessons (
  school_id uuid not null references schools,
  id uuid not null,
  student_id uuid not null,
  instructor_id uuid not null,
  registration text not null,
  opened_at timestamptz not null,
  opened jsonb not null,
  status text not null check (status in ('open', 'ended', 'signed')),
  marked integer not null,
  total integer not null,
  phases text not null,
  primary key (school_id, id),
  foreign key (school_id, student_id) references students (school_id, id),
  foreign key (school_id, instructor_id) references memberships (school_id, account_id),
  foreign key (school_id, registration) references aircraft (school_id, registration)
);
create index lessons_student on lessons (school_id, student_id, opened_at);
create index lessons_opened on lessons (school_id, opened_at);

-- Events are only ever added. The payload is json and not jsonb, so that its
-- bytes stay as they were sent.
create table lesson_events (
  school_id uuid not null,
  lesson_id uuid not null,
  id uuid not null,
  device text not null,
  seq bigint not null,
  counter bigint not null,
  at_ms bigint not null,
  wall text not null,
  kind text not null,
  v integer not null,
  payload json not null,
  sent_by uuid not null,
  received_at timestamptz not null,
  primary key (school_id, lesson_id, id)
) partition by hash (school_id);

-- +goose StatementBegin
do $$
begin
  for i in 0..15 loop
    execute format('create table lesson_events_%s partition of lesson_events for values with (modulus 16, remainder %s)', i, i);
  end loop;
end $$;
-- +goose StatementEnd

-- The first statement of every write bumps seq: the row lock puts the writes
-- of a school in commit order. chain is the hash of the school's last seal.
create table school_feed (
  school_id uuid primary key references schools,
  seq bigint not null default 0,
  chain bytea not null default ''::bytea,
  seals bigint not null default 0
);

create table school_changes (
  school_id uuid not null references schools,
  seq bigint not null,
  subject text not null,
  ref text not null,
  primary key (school_id, seq, subject, ref)
);

-- Read tables: derived by the rules from events and seals, and made anew by
-- the command rebuild.
create table item_results (
  school_id uuid not null,
  lesson_id uuid not null,
  item text not null,
  position integer not null,
  level integer,
  proposed integer,
  implied boolean not null,
  mark text not null,
  primary key (school_id, lesson_id, item),
  foreign key (school_id, lesson_id) references lessons (school_id, id)
);

create table readings (
  school_id uuid not null,
  lesson_id uuid not null,
  event_id uuid not null,
  registration text not null,
  check_name text not null,
  engine integer not null,
  attempt integer not null,
  item text not null,
  reading json not null,
  verdict json,
  at timestamptz not null,
  primary key (school_id, lesson_id, event_id),
  foreign key (school_id, lesson_id) references lessons (school_id, id)
);
create index readings_aircraft on readings (school_id, registration, check_name, at);

create table findings (
  school_id uuid not null,
  lesson_id uuid not null,
  event_id uuid not null,
  registration text not null,
  item text not null,
  words text not null,
  decision text not null,
  told text not null,
  why text not null,
  at timestamptz not null,
  primary key (school_id, lesson_id, event_id),
  foreign key (school_id, lesson_id) references lessons (school_id, id)
);
create index findings_aircraft on findings (school_id, registration, at);

create table observations (
  school_id uuid not null,
  student_id uuid not null,
  lesson_id uuid not null,
  ordinal integer not null,
  element text not null,
  item text not null,
  level integer not null,
  implied boolean not null,
  oral boolean not null,
  mark text not null,
  registration text not null,
  class text not null,
  engine_kind text not null,
  start_type text not null,
  instructor_id uuid not null,
  on_day date not null,
  opened_at timestamptz not null,
  primary key (school_id, lesson_id, ordinal),
  foreign key (school_id, student_id) references students (school_id, id),
  foreign key (school_id, lesson_id) references lessons (school_id, id)
);
create index observations_student on observations (school_id, student_id, opened_at, ordinal);

create table standings (
  school_id uuid not null,
  student_id uuid not null,
  element text not null,
  held text not null,
  newest date not null,
  lapses_on date,
  lessons integer not null,
  history json not null,
  primary key (school_id, student_id, element),
  foreign key (school_id, student_id) references students (school_id, id)
);

create table stage_checks (
  school_id uuid not null,
  student_id uuid not null,
  lesson_id uuid not null,
  instructor_id uuid not null,
  on_day date not null,
  passed boolean not null,
  primary key (school_id, lesson_id),
  foreign key (school_id, student_id) references students (school_id, id),
  foreign key (school_id, lesson_id) references lessons (school_id, id)
);

create table signing_keys (
  school_id uuid not null references schools,
  id text not null,
  public bytea not null,
  private bytea not null,
  made_at timestamptz not null,
  primary key (school_id, id)
);
comment on column signing_keys.private is 'AES-256-GCM under the installation''s secret, nonce first';

create table seals (
  school_id uuid not null,
  number bigint not null,
  lesson_id uuid not null,
  event_id uuid not null,
  content bytea not null,
  previous bytea not null,
  hash bytea not null,
  key_id text not null,
  signature bytea not null,
  signed_by uuid not null,
  signed_at timestamptz not null,
  primary key (school_id, number),
  foreign key (school_id, lesson_id) references lessons (school_id, id),
  foreign key (school_id, key_id) references signing_keys (school_id, id)
);
create index seals_lesson on seals (school_id, lesson_id, number);

-- +goose StatementBegin
create function only_added() returns trigger language plpgsql as $$
begin
  raise exception '% is only ever added to', tg_table_name;
end $$;
-- +goose StatementEnd
create trigger only_added before update or delete on lesson_events for each row execute function only_added();
create trigger only_added before update or delete on seals for each row execute function only_added();

-- +goose StatementBegin
do $$
declare t text;
begin
  foreach t in array array['memberships', 'students', 'shares', 'aircraft', 'packs', 'lessons', 'lesson_events',
      'school_feed', 'school_changes', 'item_results', 'readings', 'findings', 'observations', 'standings',
      'stage_checks', 'signing_keys', 'seals'] loop
    execute format('alter table %I enable row level security', t);
    execute format('create policy of_school on %I using (school_id = nullif(current_setting(''app.school'', true), '''')::uuid)', t);
    if t in ('lesson_events', 'seals', 'school_changes', 'signing_keys', 'packs') then
      execute format('grant select, insert on %I to jetprimer_app', t);
    elsif t in ('memberships', 'students', 'shares', 'aircraft') then
      execute format('grant select, insert, update on %I to jetprimer_app', t);
    else
      execute format('grant select, insert, update, delete on %I to jetprimer_app', t);
    end if;
  end loop;
end $$;
-- +goose StatementEnd

-- At sign-in a person sees where they belong before any school is chosen.
create policy of_account on memberships for select
  using (account_id = nullif(current_setting('app.account', true), '')::uuid);

grant select, insert on schools, accounts to jetprimer_app;
grant update (name, password) on accounts to jetprimer_app;
grant select, insert, update, delete on sessions, login_attempts to jetprimer_app;
