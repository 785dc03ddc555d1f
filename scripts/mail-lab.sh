#!/usr/bin/env bash
# Real mail servers on loopback for the tests: two Postfix instances and Dovecot, from Debian's packages, with folders
# and ports of their own. Nothing under /etc is changed, and nothing can leave the machine.
#   mail-lab.sh install       apt-get install (Debian, root)
#   mail-lab.sh start FOLDER  writes the configuration into FOLDER and starts everything
#   mail-lab.sh stop FOLDER   ends what start started
#
# Ports from LAB_PORT (18500) on: +0 submission with STARTTLS, +1 submission over TLS, +2 submission without encryption,
# +3 where mail arrives at sender.example, +4 where it arrives at the museums, +5 IMAP, +6 IMAP over TLS. A token instead
# of a password is asked about at +7 (RFC 7662), where a test answers; the port over TLS takes OAUTHBEARER only.
# The host "A" has the mailboxes of sender.example, "B" is the museums' (MX). Password of each: secret-NAME.
# ana: the host puts copies into Sent; ben: no Sent folder; cleo: an empty one.
set -euo pipefail
PORT=${LAB_PORT:-18500}
ROOT=${2:-}
VMAIL=saudadelab

install() {
  # Nothing is asked of the network where all is there.
  if command -v postfix doveconf sievec openssl >/dev/null && [ -e /usr/lib/dovecot/lmtp ]; then return; fi
  export DEBIAN_FRONTEND=noninteractive
  apt-get update -qq
  echo "postfix postfix/main_mailer_type select No configuration" | debconf-set-selections
  apt-get install -y -qq --no-install-recommends postfix dovecot-core dovecot-imapd dovecot-lmtpd dovecot-sieve openssl
}

users() {
  for name in ana ben cleo; do echo "$name@sender.example:"; done
  for name in rita otto away $(seq -f 'p%g' 1 500); do echo "$name@museum.example:"; done
  echo "full@museum.example:*:storage=100B"
}

dovecot_conf() {
  cat <<D
base_dir = $ROOT/dovecot/run
state_dir = $ROOT/dovecot/state
log_path = $ROOT/log/dovecot.log
protocols = imap lmtp
listen = 127.0.0.1
ssl = yes
ssl_cert = <$ROOT/tls/cert.pem
ssl_key = <$ROOT/tls/key.pem
disable_plaintext_auth = no
auth_mechanisms = plain login xoauth2 oauthbearer
mail_location = maildir:~/Maildir
first_valid_uid = 1
mail_plugins = quota
passdb {
  driver = oauth2
  mechanisms = xoauth2 oauthbearer
  args = $ROOT/dovecot/oauth2.conf
}
passdb {
  driver = passwd-file
  mechanisms = plain login
  args = username_format=%u $ROOT/dovecot/users
}
userdb {
  driver = passwd-file
  args = username_format=%u $ROOT/dovecot/users
}
namespace inbox {
  inbox = yes
  mailbox Sent {
    special_use = \\Sent
  }
  mailbox Junk {
    special_use = \\Junk
  }
}
service imap-login {
  inet_listener imap {
    port = $((PORT + 5))
  }
  inet_listener imaps {
    port = $((PORT + 6))
    ssl = yes
  }
}
service lmtp {
  unix_listener $ROOT/a/queue/private/dovecot-lmtp {
    mode = 0600
    user = postfix
    group = postfix
  }
  unix_listener $ROOT/b/queue/private/dovecot-lmtp {
    mode = 0600
    user = postfix
    group = postfix
  }
}
service auth {
  unix_listener $ROOT/a/queue/private/auth {
    mode = 0660
    user = postfix
    group = postfix
  }
}
protocol imap {
  mail_plugins = quota imap_quota
  mail_max_userip_connections = 50
}
protocol lmtp {
  mail_plugins = quota sieve
}
postmaster_address = postmaster@museum.example
hostname = mx.museum.example
submission_host = 127.0.0.1:$((PORT + 3))
lda_mailbox_autocreate = yes
plugin {
  quota = maildir:User quota
  sieve = file:~/sieve;active=~/.dovecot.sieve
  sieve_vacation_min_period = 0
  sieve_vacation_send_from_recipient = yes
}
D
}

oauth2_conf() {
  cat <<O
introspection_mode = post
introspection_url = http://127.0.0.1:$((PORT + 7))/introspect
username_attribute = username
active_attribute = active
active_value = true
O
}

postfix_conf() {
  cat <<P
compatibility_level = 3.6
queue_directory = $ROOT/$1/queue
data_directory = $ROOT/$1/lib
command_directory = /usr/sbin
daemon_directory = /usr/lib/postfix/sbin
mail_owner = postfix
setgid_group = postdrop
maillog_file = $ROOT/log/postfix-$1.log
maillog_file_prefixes = $ROOT/log
inet_interfaces = 127.0.0.1
inet_protocols = ipv4
mynetworks = 127.0.0.0/8
mydestination =
local_recipient_maps =
alias_maps =
alias_database =
smtputf8_enable = yes
mailbox_size_limit = 0
virtual_mailbox_limit = 0
disable_dns_lookups = yes
smtp_host_lookup = native
default_transport = error:5.4.4 this machine sends to nobody outside
relay_transport = error:5.4.4 this machine sends to nobody outside
smtpd_peername_lookup = no
minimal_backoff_time = 5s
maximal_backoff_time = 10s
queue_run_delay = 5s
maximal_queue_lifetime = 1m
bounce_queue_lifetime = 1m
smtpd_tls_cert_file = $ROOT/tls/cert.pem
smtpd_tls_key_file = $ROOT/tls/key.pem
smtpd_tls_security_level = may
transport_maps = texthash:$ROOT/$1/etc/transport
virtual_transport = lmtp:unix:private/dovecot-lmtp
virtual_mailbox_maps = texthash:$ROOT/$1/etc/mailboxes
P
}

SERVICES='pickup    unix  n       -       n       60      1       pickup
cleanup   unix  n       -       n       -       0       cleanup
qmgr      unix  n       -       n       300     1       qmgr
tlsmgr    unix  -       -       n       1000?   1       tlsmgr
rewrite   unix  -       -       n       -       -       trivial-rewrite
bounce    unix  -       -       n       -       0       bounce
defer     unix  -       -       n       -       0       bounce
trace     unix  -       -       n       -       0       bounce
verify    unix  -       -       n       -       1       verify
flush     unix  n       -       n       1000?   0       flush
proxymap  unix  -       -       n       -       -       proxymap
smtp      unix  -       -       n       -       -       smtp
lmtp      unix  -       -       n       -       -       lmtp
error     unix  -       -       n       -       -       error
retry     unix  -       -       n       -       -       error
anvil     unix  -       -       n       -       1       anvil
scache    unix  -       -       n       -       1       scache
postlog   unix-dgram n  -       n       -       1       postlogd'

configure() {
  id $VMAIL >/dev/null 2>&1 || useradd --system --no-create-home --shell /usr/sbin/nologin $VMAIL
  local uid gid
  uid=$(id -u $VMAIL)
  gid=$(id -g $VMAIL)
  mkdir -p "$ROOT"/{tls,mail,dovecot/run,dovecot/state,a/etc,a/queue,a/lib,b/etc,b/queue,b/lib,log}
  chmod 755 "$ROOT"
  openssl req -x509 -newkey rsa:2048 -nodes -days 30 -subj "/CN=mail.sender.example" \
    -addext "subjectAltName=DNS:mail.sender.example,DNS:localhost,IP:127.0.0.1" \
    -keyout "$ROOT/tls/key.pem" -out "$ROOT/tls/cert.pem" 2>/dev/null
  users | while IFS=: read -r address quota; do
    echo "$address:{PLAIN}secret-${address%@*}:$uid:$gid::$ROOT/mail/${address#*@}/${address%@*}::${quota:+userdb_quota_rule=$quota}"
  done > "$ROOT/dovecot/users"
  dovecot_conf > "$ROOT/dovecot/dovecot.conf"
  oauth2_conf > "$ROOT/dovecot/oauth2.conf"
  # Cleo's host makes Junk with the first letter that goes there.
  for who in ana ben; do mkdir -p "$ROOT/mail/sender.example/$who/Maildir/.Junk"/{cur,new,tmp}; done
  for who in ana cleo; do mkdir -p "$ROOT/mail/sender.example/$who/Maildir/.Sent"/{cur,new,tmp}; done
  mkdir -p "$ROOT/mail/museum.example/away"
  printf 'require ["fileinto"];\nif address :is "from" "ana@sender.example" { fileinto "Sent"; }\n' \
    > "$ROOT/mail/sender.example/ana/.dovecot.sieve"
  printf 'require ["vacation"];\nvacation :days 1 :subject "Out of the house" "I am away until Monday.";\n' \
    > "$ROOT/mail/museum.example/away/.dovecot.sieve"
  chown -R $VMAIL:$VMAIL "$ROOT/mail"

  for who in a b; do
    postfix_conf $who > "$ROOT/$who/etc/main.cf"
    echo "$SERVICES" > "$ROOT/$who/etc/master.cf"
    users | cut -d: -f1 | awk '{print $1, "ok"}' > "$ROOT/$who/etc/mailboxes"
  done
  {
    echo "myhostname = mail.sender.example"
    echo "virtual_mailbox_domains = sender.example"
    echo "smtpd_sasl_type = dovecot"
    echo "smtpd_sasl_path = private/auth"
    echo "smtpd_sender_login_maps = texthash:$ROOT/a/etc/logins"
    echo "sender_bcc_maps = texthash:$ROOT/a/etc/copies"
  } >> "$ROOT/a/etc/main.cf"
  for who in ana ben cleo; do echo "$who@sender.example $who@sender.example"; done > "$ROOT/a/etc/logins"
  echo "ana@sender.example ana@sender.example" > "$ROOT/a/etc/copies"
  echo "museum.example smtp:[127.0.0.1]:$((PORT + 4))" > "$ROOT/a/etc/transport"
  local sub="-o smtpd_sasl_auth_enable=yes -o smtpd_relay_restrictions=permit_sasl_authenticated,reject -o smtpd_recipient_restrictions=permit_sasl_authenticated,reject -o smtpd_sender_restrictions=reject_sender_login_mismatch"
  cat >> "$ROOT/a/etc/master.cf" <<M
127.0.0.1:$((PORT + 0)) inet n - n - - smtpd -o smtpd_tls_security_level=encrypt -o smtpd_tls_auth_only=yes $sub
127.0.0.1:$((PORT + 1)) inet n - n - - smtpd -o smtpd_tls_wrappermode=yes -o smtpd_sasl_mechanism_filter=!xoauth2,static:all $sub
127.0.0.1:$((PORT + 2)) inet n - n - - smtpd -o smtpd_tls_security_level=none -o smtpd_tls_auth_only=no $sub
127.0.0.1:$((PORT + 3)) inet n - n - - smtpd -o smtpd_relay_restrictions=permit_mynetworks,reject
M
  {
    echo "myhostname = mx.museum.example"
    echo "virtual_mailbox_domains = museum.example"
  } >> "$ROOT/b/etc/main.cf"
  echo "sender.example smtp:[127.0.0.1]:$((PORT + 3))" > "$ROOT/b/etc/transport"
  echo "127.0.0.1:$((PORT + 4)) inet n - n - - smtpd -o smtpd_relay_restrictions=permit_mynetworks,reject" >> "$ROOT/b/etc/master.cf"
  # The museums' server takes everything and finds out later who is there: its bounces come as reports.
  echo "local_recipient_maps =" >> "$ROOT/b/etc/main.cf"
  echo "smtpd_reject_unlisted_recipient = no" >> "$ROOT/b/etc/main.cf"
}

start() {
  configure
  for who in a b; do
    local queue="$ROOT/$who/queue"
    mkdir -p "$queue"/{pid,private,public,maildrop,incoming,active,deferred,defer,bounce,corrupt,flush,hold,saved,trace}
    chown root:root "$queue/pid"
    chown postfix:postfix "$ROOT/$who/lib"
    for folder in private public maildrop incoming active deferred defer bounce corrupt flush hold saved trace; do
      chown postfix:root "$queue/$folder"
      chmod 700 "$queue/$folder"
    done
    chgrp postdrop "$queue/public" "$queue/maildrop"
    chmod 710 "$queue/public"
    chmod 1730 "$queue/maildrop"
    chmod 755 "$ROOT/$who" "$ROOT/$who/etc" "$queue"
    postfix -c "$ROOT/$who/etc" start
  done
  dovecot -c "$ROOT/dovecot/dovecot.conf"
}

stop() {
  for who in a b; do
    if [ -f "$ROOT/$who/queue/pid/master.pid" ]; then postfix -c "$ROOT/$who/etc" stop || true; fi
  done
  if [ -f "$ROOT/dovecot/run/master.pid" ]; then kill "$(cat "$ROOT/dovecot/run/master.pid")" || true; fi
}

case "${1:-}" in
  install) install ;;
  # The servers keep open what they were started with; a pipe would never end.
  start) mkdir -p "$ROOT/log"; start </dev/null >"$ROOT/log/start.log" 2>&1 || { cat "$ROOT/log/start.log"; exit 1; } ;;
  stop) stop >/dev/null 2>&1 ;;
  *) sed -n 2,14p "$0"; exit 2 ;;
esac
