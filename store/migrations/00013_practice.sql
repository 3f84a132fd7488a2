-- +goose Up

-- What was practised on the stand: the run, as it was sent and replayed, and what it
-- came to. It is no lesson, and no aircraft time.
create table practice_runs (
  school_id uuid not null references schools,
  id uuid not null,
  student_id uuid not null,
  type text not null,
  title text not null,
  mode text not null,
  made_at timestamptz not null,
  on_day date not null,
  seconds integer not null,
  level integer,
  right_items integer not null,
  off_items integer not null,
  decision text not null,
  answered boolean not null,
  run bytea not null,
  score json not null,
  digest text not null,
  primary key (school_id, id),
  foreign key (school_id, student_id) references memberships (school_id, account_id)
);
create index practice_runs_of on practice_runs (school_id, student_id, made_at);

-- What a practice showed of each element, for schools whose policy lets it count.
create table practice_observations (
  school_id uuid not null,
  run_id uuid not null,
  ordinal integer not null,
  student_id uuid not null,
  element text not null,
  item text not null,
  level integer not null,
  implied boolean not null,
  oral boolean not null,
  mark text not null,
  class text not null,
  engine_kind text not null,
  start_type text not null,
  on_day date not null,
  made_at timestamptz not null,
  primary key (school_id, run_id, ordinal),
  foreign key (school_id, run_id) references practice_runs (school_id, id) on delete cascade
);
create index practice_observations_of on practice_observations (school_id, student_id);

-- Scenarios that the school has written for its stands.
create table scenarios (
  school_id uuid not null references schools,
  id text not null,
  type text not null,
  body json not null,
  written_by uuid not null,
  written_at timestamptz not null,
  primary key (school_id, id)
);
alter table scenarios enable row level security;
create policy of_school on scenarios using (school_id = nullif(current_setting('app.school', true), '')::uuid);
grant select, insert, update, delete on scenarios to jetprimer_app;

alter table practice_runs enable row level security;
create policy of_school on practice_runs using (school_id = nullif(current_setting('app.school', true), '')::uuid);
alter table practice_observations enable row level security;
create policy of_school on practice_observations using (school_id = nullif(current_setting('app.school', true), '')::uuid);
grant select, insert, delete on practice_runs, practice_observations to jetprimer_app;

-- Where a lesson was worked: what is not shown in an aircraft counts only where the
-- school says so.
alter table observations add column practice text not null default 'aircraft';
update observations o set practice = 'elsewhere' where exists (
  select 1 from lesson_events e where e.school_id = o.school_id and e.lesson_id = o.lesson_id and e.kind = 'practice-place' and e.payload ->> 'place' <> 'aircraft');
