-- +goose Up

-- What a school calls somebody is its own: another school of theirs calls them by
-- another name, and signs nothing here by it.
alter table memberships add column name text not null default '';
update memberships m set name = a.name from accounts a where a.id = m.account_id;
-- Whom the school does not name is called as their account is.
-- +goose StatementBegin
create function called_as_account() returns trigger language plpgsql as $$
begin
  if new.name = '' then
    select name into new.name from accounts where id = new.account_id;
  end if;
  return new;
end $$;
-- +goose StatementEnd
create trigger called_as_account before insert on memberships for each row execute function called_as_account();

-- Sign-ins live on after a crash of the database. Those that come back with a backup
-- still belong to another table, and open nothing.
alter table sessions set logged;
-- Where a session was begun: of one begun at another school nobody else is told.
alter table sessions add column at_school uuid;

-- Devices on which somebody has signed in: wrong passwords of others do not keep them
-- out. token is a SHA-256.
create table known_devices (
  account_id uuid not null references accounts,
  token text not null,
  seen_at timestamptz not null,
  primary key (account_id, token)
);
grant select, insert, update, delete on known_devices to jetprimer_app;

-- Challenges of passkeys that were answered: each is answered once.
create table spent_challenges (
  challenge text primary key,
  at timestamptz not null
);
grant select, insert, delete on spent_challenges to jetprimer_app;

-- A code to come back by is of the school that gave it out.
alter table accounts add column recovery_school uuid;
update accounts set recovery = '', recovery_until = null where recovery <> '';
grant update (recovery_school) on accounts to jetprimer_app;

-- What somebody is told of their account until they have read it, such as that a code
-- to come back to it was given out.
create table notices (
  school_id uuid not null references schools,
  id uuid not null default gen_random_uuid(),
  account_id uuid not null,
  at timestamptz not null,
  words text not null,
  read_at timestamptz,
  primary key (school_id, id),
  foreign key (school_id, account_id) references memberships (school_id, account_id)
);
create index notices_unread on notices (school_id, account_id) where read_at is null;
alter table notices enable row level security;
create policy of_school on notices using (school_id = nullif(current_setting('app.school', true), '')::uuid);
grant select, insert on notices to jetprimer_app;
grant update (read_at) on notices to jetprimer_app;

-- Practices that go on on some stand: what each is, and what instructors did to it.
create table live_runs (
  school_id uuid not null references schools,
  id uuid not null,
  account_id uuid not null,
  run json not null,
  seed text not null,
  begun_at timestamptz not null,
  told_at timestamptz not null,
  tick integer not null default 0,
  frozen boolean not null default false,
  ended_at timestamptz,
  primary key (school_id, id),
  foreign key (school_id, account_id) references memberships (school_id, account_id)
);
create index live_runs_told on live_runs (school_id, told_at);
create table live_wishes (
  school_id uuid not null,
  run_id uuid not null,
  number integer not null,
  wish json not null,
  made_by uuid not null,
  made_at timestamptz not null,
  primary key (school_id, run_id, number),
  foreign key (school_id, run_id) references live_runs (school_id, id)
);
alter table live_runs enable row level security;
create policy of_school on live_runs using (school_id = nullif(current_setting('app.school', true), '')::uuid);
alter table live_wishes enable row level security;
create policy of_school on live_wishes using (school_id = nullif(current_setting('app.school', true), '')::uuid);
grant select, insert, delete on live_runs, live_wishes to jetprimer_app;
grant update (told_at, tick, frozen, ended_at) on live_runs to jetprimer_app;

-- When a practice was begun, and what was done in it whoever marked it: nobody practises
-- twice at once, and the same hands count once.
alter table practice_runs add column began_at timestamptz;
alter table practice_runs add column hands text not null default '';
-- Why one counts towards nothing; empty where it counts.
alter table practice_runs add column uncounted text not null default '';
update practice_runs set began_at = made_at - make_interval(secs => seconds);
-- A server of the version before names none.
alter table practice_runs alter column began_at set default now();
alter table practice_runs alter column began_at set not null;
create unique index practice_runs_hands on practice_runs (school_id, student_id, hands) where hands <> '';
