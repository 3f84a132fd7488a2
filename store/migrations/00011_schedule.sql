-- +goose Up

-- What a lesson is flown for by the student's plan, the weeks it was booked with,
-- and who moved it last.
alter table bookings
  add column plan text not null default '',
  add column series uuid,
  add column moved_by uuid,
  add column moved_at timestamptz;

-- When somebody is on leave, or an aircraft is not to be had.
create table away (
  school_id uuid not null references schools,
  id uuid not null default gen_random_uuid(),
  account_id uuid,
  registration text,
  starts_at timestamptz not null,
  ends_at timestamptz not null,
  why text not null,
  noted_by uuid not null,
  noted_at timestamptz not null,
  ended_by uuid,
  ended_at timestamptz,
  primary key (school_id, id),
  check (starts_at < ends_at),
  check ((account_id is null) <> (registration is null)),
  foreign key (school_id, account_id) references memberships (school_id, account_id),
  foreign key (school_id, registration) references aircraft (school_id, registration)
);
create index away_by_time on away (school_id, ends_at);

-- When somebody works, by day of the week.
create table shifts (
  school_id uuid not null references schools,
  account_id uuid not null,
  week json not null,
  primary key (school_id, account_id),
  foreign key (school_id, account_id) references memberships (school_id, account_id)
);

-- Who would come at short notice.
create table standby (
  school_id uuid not null references schools,
  student_id uuid not null,
  from_on date not null,
  to_on date not null,
  words text not null default '',
  noted_by uuid not null,
  noted_at timestamptz not null,
  primary key (school_id, student_id),
  check (from_on <= to_on),
  foreign key (school_id, student_id) references students (school_id, id)
);

-- The secret addresses of people's calendars, as hashes.
create table calendars (
  school_id uuid not null references schools,
  account_id uuid not null,
  secret bytea not null,
  made_at timestamptz not null,
  primary key (school_id, account_id),
  foreign key (school_id, account_id) references memberships (school_id, account_id)
);

alter table away enable row level security;
create policy of_school on away using (school_id = nullif(current_setting('app.school', true), '')::uuid);
alter table shifts enable row level security;
create policy of_school on shifts using (school_id = nullif(current_setting('app.school', true), '')::uuid);
alter table standby enable row level security;
create policy of_school on standby using (school_id = nullif(current_setting('app.school', true), '')::uuid);
alter table calendars enable row level security;
create policy of_school on calendars using (school_id = nullif(current_setting('app.school', true), '')::uuid);
grant select, insert, update on away to jetprimer_app;
grant select, insert, update on shifts to jetprimer_app;
grant select, insert, update, delete on standby, calendars to jetprimer_app;
