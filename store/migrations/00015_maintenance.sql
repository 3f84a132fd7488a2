-- +goose Up

-- A maintenance run is a lesson without a student: the measured checks of an aircraft,
-- signed by who maintains it.
alter table lessons alter column student_id drop not null;
alter table lessons add constraint lessons_student_or_run check (student_id is not null or opened->>'purpose' = 'maintenance');

-- What a check grounded is returned by the run whose judged try answers it.
alter table returns add column run_id uuid;
alter table returns add constraint returns_run foreign key (school_id, run_id) references lessons (school_id, id);
