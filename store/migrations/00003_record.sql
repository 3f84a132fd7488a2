-- +goose Up

-- A school's day is told in its own time zone; sign-ins that rest end after
-- idle_hours.
alter table schools add column time_zone text not null default 'UTC';
alter table schools add column idle_hours integer not null default 12 check (idle_hours between 1 and 336);

-- The event that opened the lesson, which no other takes over; last_seq is the
-- school's count at the lesson's last write.
alter table lessons add column opened_event uuid;
alter table lessons add column last_seq bigint not null default 0;
update lessons l set opened_event = (
  select e.id from lesson_events e where e.school_id = l.school_id and e.lesson_id = l.id and e.kind = 'lesson-opened'
  order by e.counter, e.device, e.seq, e.id limit 1);
alter table lessons alter column opened_event set not null;
create index lessons_unsigned on lessons (school_id, opened_at) where status <> 'signed';
create index stage_checks_student on stage_checks (school_id, student_id, on_day);
create index item_results_zero on item_results (school_id, item) where level = 0;

-- Level-0 results that no later lesson has answered, derived when a lesson is
-- signed.
create table open_criticals (
  school_id uuid not null,
  student_id uuid not null,
  lesson_id uuid not null,
  item text not null,
  on_day date not null,
  primary key (school_id, student_id, lesson_id, item),
  foreign key (school_id, student_id) references students (school_id, id),
  foreign key (school_id, lesson_id) references lessons (school_id, id)
);
alter table open_criticals enable row level security;
create policy of_school on open_criticals using (school_id = nullif(current_setting('app.school', true), '')::uuid);
grant select, insert, update, delete on open_criticals to jetprimer_app;

-- A seal says what it is of: a lesson, or a step in the life of a version.
-- format names the form of its content.
alter table seals add column subject text not null default 'lesson' check (subject in ('lesson', 'version'));
alter table seals add column format integer not null default 1;
alter table seals alter column lesson_id drop not null;
alter table seals alter column event_id drop not null;
alter table seals add constraint seals_of_lesson check (subject <> 'lesson' or lesson_id is not null and event_id is not null);
create unique index seals_event on seals (school_id, event_id) where event_id is not null;

-- The head of the chain moves by one seal at a time, to a seal that is there;
-- the count of writes only grows.
-- +goose StatementBegin
create function head_moves_on() returns trigger language plpgsql as $$
begin
  if new.seq < old.seq or new.seals < old.seals or new.seals > old.seals + 1 then
    raise exception 'the feed of a school only moves on';
  end if;
  if new.seals = old.seals and new.chain <> old.chain then
    raise exception 'the head of the chain is the hash of the last seal';
  end if;
  if new.seals = old.seals + 1 and not exists (
      select from seals s where s.school_id = new.school_id and s.number = new.seals and s.hash = new.chain and s.previous = old.chain) then
    raise exception 'the head of the chain moves to a seal that is there';
  end if;
  return new;
end $$;
-- +goose StatementEnd
create trigger head_moves_on before update on school_feed for each row execute function head_moves_on();

-- The program needs less than it had: a lesson's row changes in what is
-- derived, and none goes; the feed's head is never deleted.
revoke update, delete on lessons from jetprimer_app;
grant update (status, marked, phases, last_seq) on lessons to jetprimer_app;
revoke delete on school_feed from jetprimer_app;
grant delete on school_changes to jetprimer_app; -- old entries of the feed are cleared away

-- An approved version stays as it is, but for being withdrawn once.
-- +goose StatementBegin
create or replace function approved_stays() returns trigger language plpgsql as $$
begin
  if tg_op = 'DELETE' then
    if old.status <> 'draft' then
      raise exception 'version % of % is approved and stays as it is', old.version, old.id;
    end if;
    return old;
  end if;
  if old.status = 'draft' then
    return new;
  end if;
  if old.body::text <> new.body::text or old.title <> new.title or old.kind <> new.kind or old.id <> new.id or old.version <> new.version
      or old.aircraft_type <> new.aircraft_type or old.written_by <> new.written_by or old.written_at <> new.written_at or old.revision <> new.revision then
    raise exception 'version % of % is % and stays as it is', old.version, old.id, case old.status when 'reviewed' then 'reviewed' else 'approved' end;
  end if;
  if old.status = 'reviewed' then
    return new;
  end if;
  if old.in_force_from is distinct from new.in_force_from or old.approved_by is distinct from new.approved_by or old.approved_at is distinct from new.approved_at
      or old.reviewed_by is distinct from new.reviewed_by or old.reviewed_at is distinct from new.reviewed_at
      or not (old.status = 'in-force' and new.status = 'withdrawn')
        and (old.status <> new.status or old.withdrawn_from is distinct from new.withdrawn_from
          or old.withdrawn_by is distinct from new.withdrawn_by or old.withdrawn_at is distinct from new.withdrawn_at) then
    raise exception 'version % of % is approved and stays as it is', old.version, old.id;
  end if;
  return new;
end $$;
-- +goose StatementEnd

-- Sessions rest in this very table: what a backup brings back belongs to
-- another one, and opens nothing. The file system's copy of the table is empty
-- after a restore, since it is not in the log.
delete from sessions;
alter table sessions set unlogged;
alter table sessions add column home oid not null default 'sessions'::regclass::oid;
alter table sessions add column seen_at timestamptz not null default now();
alter table sessions add column idle interval not null default '12 hours';

-- Who did what to sign-ins, roles, signatures and versions.
create table audit (
  id bigint generated always as identity primary key,
  at timestamptz not null,
  school_id uuid,
  account_id uuid,
  address text not null,
  what text not null,
  subject text not null
);
create index audit_at on audit (at);
alter table audit enable row level security;
create policy of_school on audit for select using (school_id = nullif(current_setting('app.school', true), '')::uuid);
create policy written on audit for insert with check (true); -- sign-ins belong to no school yet
grant select, insert on audit to jetprimer_app;

alter table login_attempts add column id bigint generated always as identity;
create index login_attempts_at on login_attempts (at);
