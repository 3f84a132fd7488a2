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

-- Pictures of findings, by the hash that their event names.
create table pictures (
  school_id uuid not null,
  lesson_id uuid not null,
  hash text not null check (hash ~ '^[0-9a-f]{64}$'),
  data bytea not null check (length(data) <= 1048576),
  sent_by uuid not null,
  received_at timestamptz not null,
  primary key (school_id, lesson_id, hash),
  foreign key (school_id, lesson_id) references lessons (school_id, id)
);

-- An aircraft comes back from the ground by somebody's word, with what was
-- tested again.
create table returns (
  school_id uuid not null,
  lesson_id uuid not null,
  event_id uuid not null,
  words text not null,
  retest text not null,
  returned_by uuid not null,
  returned_at timestamptz not null,
  primary key (school_id, lesson_id, event_id),
  foreign key (school_id, lesson_id) references lessons (school_id, id)
);

-- The public keys of the devices that a person's PIN opens: with them a device
-- promises a signature while the school is not reached.
alter table accounts add column device_keys json not null default '[]';
grant update (device_keys) on accounts to jetprimer_app;

-- A student's record shared by a link and a code, until a moment; who looked.
create table record_shares (
  school_id uuid not null references schools,
  id uuid not null default gen_random_uuid(),
  student_id uuid not null,
  whom text not null,
  code text not null,
  until timestamptz not null,
  made_by uuid not null,
  made_at timestamptz not null,
  withdrawn_by uuid,
  withdrawn_at timestamptz,
  primary key (school_id, id),
  foreign key (school_id, student_id) references students (school_id, id)
);
create index record_shares_student on record_shares (school_id, student_id);
comment on column record_shares.code is 'argon2id hash';
create table share_looks (
  school_id uuid not null,
  share_id uuid not null,
  at timestamptz not null,
  name text not null,
  what text not null,
  foreign key (school_id, share_id) references record_shares (school_id, id)
);
create index share_looks_share on share_looks (school_id, share_id, at);

-- Passkeys of a person's devices, as the library that checks them keeps them.
alter table accounts add column passkeys json not null default '[]';
grant update (passkeys) on accounts to jetprimer_app;

-- +goose StatementBegin
do $$
declare t text;
begin
  foreach t in array array['pictures', 'returns', 'record_shares', 'share_looks'] loop
    execute format('alter table %I enable row level security', t);
    execute format('create policy of_school on %I using (school_id = nullif(current_setting(''app.school'', true), '''')::uuid)', t);
    execute format('grant select, insert on %I to jetprimer_app', t);
    if t in ('pictures', 'returns') then
      execute format('create trigger only_added before update or delete on %I for each row execute function only_added()', t);
    end if;
  end loop;
end $$;
-- +goose StatementEnd
grant update (withdrawn_by, withdrawn_at) on record_shares to jetprimer_app;
