-- +goose Up

-- How far each student was after each of their lessons, derived at signing: a list
-- of each, so that what a sheet of all students needs is read alone.
create table courses (
  school_id uuid not null,
  student_id uuid not null,
  lessons json not null,
  days json not null,
  met json not null,
  checks json not null,
  primary key (school_id, student_id),
  foreign key (school_id, student_id) references students (school_id, id)
);

-- How quickly what was learnt is forgotten, as fitted to what the school has seen.
create table forgetting (
  school_id uuid primary key references schools,
  fitted_on date not null,
  answers integer not null,
  constants json not null
);

-- Which columns of an aircraft's recorder hold what, as they were mapped once.
create table recorders (
  school_id uuid not null references schools,
  registration text not null,
  columns json not null,
  mapped_by uuid not null,
  mapped_at timestamptz not null,
  primary key (school_id, registration),
  foreign key (school_id, registration) references aircraft (school_id, registration)
);

alter table courses enable row level security;
create policy of_school on courses using (school_id = nullif(current_setting('app.school', true), '')::uuid);
alter table forgetting enable row level security;
create policy of_school on forgetting using (school_id = nullif(current_setting('app.school', true), '')::uuid);
alter table recorders enable row level security;
create policy of_school on recorders using (school_id = nullif(current_setting('app.school', true), '')::uuid);
grant select, insert, update, delete on courses, forgetting, recorders to jetprimer_app;

-- Until when a finding is deferred, by the operator's rules: the newest one counts.
create table deferrals (
  school_id uuid not null,
  lesson_id uuid not null,
  event_id uuid not null,
  until_on date not null,
  words text not null,
  noted_by uuid not null,
  noted_at timestamptz not null,
  primary key (school_id, lesson_id, event_id, noted_at),
  foreign key (school_id, lesson_id) references lessons (school_id, id)
);
alter table deferrals enable row level security;
create policy of_school on deferrals using (school_id = nullif(current_setting('app.school', true), '')::uuid);
grant select, insert on deferrals to jetprimer_app;

-- What an engine recorder measured is the same try as the one typed before it.
alter table readings add column recorded boolean not null default false;
