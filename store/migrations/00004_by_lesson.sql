-- +goose Up

-- A stage check is of one stage and class.
alter table stage_checks add column stage text not null default '';
alter table stage_checks add column class text not null default '';

-- What a lesson's class is stands beside the critical errors of its class.
alter table open_criticals add column class text not null default '';

-- Where the condition of a critical item does not come again, the chief
-- instructor decides, and says why.
create table critical_decisions (
  school_id uuid not null references schools,
  student_id uuid not null,
  lesson_id uuid not null,
  item text not null,
  why text not null,
  decided_by uuid not null,
  decided_at timestamptz not null,
  primary key (school_id, student_id, lesson_id, item),
  foreign key (school_id, student_id) references students (school_id, id),
  foreign key (school_id, lesson_id) references lessons (school_id, id)
);
alter table critical_decisions enable row level security;
create policy of_school on critical_decisions using (school_id = nullif(current_setting('app.school', true), '')::uuid);
grant select, insert on critical_decisions to jetprimer_app;
