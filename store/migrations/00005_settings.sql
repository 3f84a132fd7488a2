-- +goose Up

-- What a school decides for itself, such as the units it reads, and the units
-- that a person reads instead.
alter table schools add column settings json not null default '{}';
alter table accounts add column units json not null default '{}';
grant update (settings) on schools to jetprimer_app;
grant update (units) on accounts to jetprimer_app;
