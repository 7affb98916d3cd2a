-- Whose certificates a connection takes over TLS, in PEM; empty for the authorities of the machine.
alter table connection add column authorities varchar(64000) default '' not null;
