-- +goose Up

-- A number that opens a device and signs, beside the password: an argon2id hash.
alter table accounts add column pin text not null default '';
grant update (pin) on accounts to jetprimer_app;

-- Who marks a lesson beside its instructor, and what is to be known of how it
-- came to be, such as that the aircraft stood on the ground.
alter table lessons add column observers json not null default '[]';
alter table lessons add column flag text not null default '';
grant update (observers) on lessons to jetprimer_app;

-- The student's answer to a signature is sealed as the signature is.
alter table seals drop constraint seals_subject_check;
alter table seals add constraint seals_subject_check check (subject in ('lesson', 'version', 'acknowledgement'));
alter table seals drop constraint seals_of_lesson;
alter table seals add constraint seals_of_lesson check (subject = 'version' or lesson_id is not null and event_id is not null);

-- How long a lesson ran, so that two of one aircraft, student or instructor
-- that overlap are found.
alter table lessons add column duration_ms bigint not null default 0;
grant update (duration_ms) on lessons to jetprimer_app;
