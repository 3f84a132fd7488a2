-- +goose Up

-- What is planned to be flown: nobody and nothing is in two places at once.
create extension if not exists btree_gist;
create table bookings (
  school_id uuid not null references schools,
  id uuid not null default gen_random_uuid(),
  student_id uuid not null,
  instructor_id uuid not null,
  registration text not null,
  starts_at timestamptz not null,
  ends_at timestamptz not null,
  exercises json not null default '[]',
  booked_by uuid not null,
  booked_at timestamptz not null,
  cancelled_by uuid,
  cancelled_at timestamptz,
  why text not null default '',
  primary key (school_id, id),
  check (starts_at < ends_at),
  foreign key (school_id, student_id) references students (school_id, id),
  foreign key (school_id, instructor_id) references memberships (school_id, account_id),
  foreign key (school_id, registration) references aircraft (school_id, registration),
  constraint one_student exclude using gist (school_id with =, student_id with =, tstzrange(starts_at, ends_at) with &&) where (cancelled_at is null),
  constraint one_instructor exclude using gist (school_id with =, instructor_id with =, tstzrange(starts_at, ends_at) with &&) where (cancelled_at is null),
  constraint one_aircraft exclude using gist (school_id with =, registration with =, tstzrange(starts_at, ends_at) with &&) where (cancelled_at is null)
);
create index bookings_by_time on bookings (school_id, starts_at);
alter table bookings enable row level security;
create policy of_school on bookings using (school_id = nullif(current_setting('app.school', true), '')::uuid);
grant select, insert, update on bookings to jetprimer_app;
