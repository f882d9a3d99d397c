"""The server in front, nginx: it receives slow and large bodies for the app, and cuts them off at their limits."""

import os
from pathlib import Path

__all__ = ["written"]

WHOLE = """# written by `manage.py serve` from config/front.py
daemon off;
{user}worker_processes 1;
pid {folder}/nginx.pid;
error_log stderr error;
worker_rlimit_nofile 8192;
events {{ worker_connections 4096; }}
http {{
  access_log off;
  server_tokens off;
  client_body_temp_path {folder}/bodies;
  proxy_temp_path {folder}/unused; fastcgi_temp_path {folder}/unused; uwsgi_temp_path {folder}/unused;
  scgi_temp_path {folder}/unused;
  # a slow one costs a few kilobytes here, and not a thread of the app
  client_header_timeout 10s;
  client_body_timeout 15s;
  send_timeout 30s;
  keepalive_timeout 20s;
  reset_timedout_connection on;
  client_body_buffer_size 64k;
  {believed}
  limit_conn_zone $binary_remote_addr zone=addresses:8m;
  limit_conn_status 429;
  geo $realip_remote_addr $proxy {{ default 0; {proxies} }}
  map $proxy$http_x_forwarded_proto $said {{ default $scheme; 1https https; }}
  map $http_accept $kind {{ default json; ~text/html page; }}
  map $request $again {{ default ""; ~^GET '<meta http-equiv="refresh" content="2">'; }}
  map $request $advice {{
    default "Go back, look whether it was done, and do it once more if not.";
    ~^GET "This page tries again by itself.";
  }}
  map $allowed $failed {{ default down; "" full; "~20\\d$" full; }}
  # twice: where the process that had a request was killed, another is asked, if it may be asked again (RFC 9110, 9.2.2)
  upstream app {{ server unix:{socket} max_fails=0; server unix:{socket} max_fails=0; }}
  proxy_http_version 1.1;
  proxy_set_header Connection "";
  proxy_set_header Host $http_host;
  proxy_set_header X-Real-IP $remote_addr;
  proxy_set_header X-Forwarded-For $remote_addr;
  proxy_set_header X-Forwarded-Proto {scheme};
  proxy_read_timeout 180s;
  # an answer is never written to the disk, which may be full: what does not fit here waits in the app
  proxy_max_temp_file_size 0;
  proxy_buffers 64 64k;
  proxy_buffer_size 64k;
  proxy_busy_buffers_size 128k;
  server {{
    listen {bind} backlog=1024;
    limit_conn addresses {connections};
    client_max_body_size {forms};
    # the answer of the body check; empty for a body that was not checked
    set $allowed "";
    error_page 413 /-large;
    error_page 403 /-out;
    # nginx itself fails if the body check does not answer, and if it cannot write a body
    error_page 500 = /-$failed.$kind;
    error_page 502 504 = /-down.$kind;
    location = /-large {{ internal; {json}
      return 413 '{{"error": "That is larger than what is taken here.", "remedy": "Send something smaller."}}';
    }}
    location = /-out {{ internal; {json}
      return 403 '{{"error": "You are signed out, or this page is too old.", "remedy": "Sign in, or reload it."}}';
    }}
    location = /-down.json {{ internal; {json}
      add_header Retry-After 2 always;
      return 503 '{{"error": "The server is starting.", "remedy": "Try again.", "busy": true}}';
    }}
    location = /-down.page {{ internal; {page}
      add_header Retry-After 2 always;
      return 503 '{down}';
    }}
    location = /-full.json {{ internal; {json}
      return 507 '{{"error": "{full[0]}", "remedy": "{full[1]}"}}';
    }}
    location = /-full.page {{ internal; {page} return 507 '{no_room}'; }}
    # files of the app go out as they lie there: nothing is written for them, and no thread waits
    location /-files/ {{
      internal;
      alias {media}/;
      etag off;
      add_header Content-Security-Policy $upstream_http_content_security_policy always;
      add_header X-Content-Type-Options nosniff always;
      add_header Permissions-Policy $upstream_http_permissions_policy always;
    }}
    location = /body-check {{ return 404; }}
    location = /-body-check {{
      internal;
      client_max_body_size 0;
      proxy_pass http://app/body-check;
      proxy_method POST;
      proxy_next_upstream error timeout non_idempotent;
      proxy_pass_request_body off;
      proxy_set_header Content-Length "";
      proxy_set_header Content-Type "";
      proxy_set_header Host $http_host;
      proxy_set_header X-Real-IP $remote_addr;
      proxy_set_header X-Forwarded-Proto {scheme};
    }}
{checked}
    location / {{ proxy_pass http://app; }}
  }}
}}
"""
CHECKED = """    location ~ "^/{pattern}" {{
      # whose body it is is asked before any of it is read
      auth_request /-body-check;
      auth_request_set $allowed $upstream_status;
      client_max_body_size {most};
      proxy_pass http://app;
    }}"""

_PAGE = """<!DOCTYPE html><html lang="en"><title>{title} · Gouge</title>{head}<style>
body {{{{ background: #f5f0e6; color: #22302f; font: 16px/1.5 system-ui, sans-serif; margin: 16vh auto; width: 22em;
max-width: 86vw; box-sizing: border-box; padding: 28px; border: 1px solid #d9d0bd; border-radius: 12px }}}}
h1 {{{{ font-size: 1.35em; margin: 0 }}}} a {{{{ color: #22302f }}}}</style><h1>{title}</h1><p>{words}</p>
<a href="/">To the projects</a></html>"""


def _said(title: str, words: str, head: str = "") -> str:
    """Return one of nginx's own pages in the form that its configuration takes."""
    return _PAGE.format(title=title, words=words, head=head).format().replace("\n", " ")


def written(folder: Path, bind: str, socket: Path) -> Path:
    """Write the configuration into a folder and return its file. Addresses that take files come from the views."""
    from django.conf import settings
    from django.urls import get_resolver

    from studio.operations.upload_limits import FORMS, limit_of
    from studio.storage import FULL

    checked = []
    for pattern in get_resolver("studio.urls").url_patterns:
        most = limit_of(pattern.callback)
        if most > FORMS:
            plain = pattern.pattern.regex.pattern.lstrip("^")
            checked.append(CHECKED.format(pattern=plain, most=most))
    # https ends at a proxy that is not named: then it is on this machine
    named = os.environ.get("GOUGE_PROXIES", "") or ("127.0.0.1,::1" if settings.HTTPS else "")
    proxies = [a for a in named.split(",") if a]
    believed = "".join(f"set_real_ip_from {a}; " for a in proxies)
    if proxies:
        believed += "real_ip_header X-Forwarded-For; real_ip_recursive on;"
    # the body was refused, or goes no further than here
    own = "client_max_body_size 0; "
    own += """add_header Content-Security-Policy "default-src 'none'; style-src 'unsafe-inline'" always;"""
    text = WHOLE.format(
        media=Path(settings.MEDIA_ROOT).absolute(),
        json=f"default_type application/json; {own}",
        page=f'default_type "text/html; charset=utf-8"; {own}',
        full=FULL,
        down=_said("The server is starting", "$advice Nothing that was saved is lost.", "$again"),
        no_room=_said("The server can’t write to its disk", " ".join(FULL)),
        folder=folder,
        socket=socket,
        bind=bind,
        user="user root;\n" if os.geteuid() == 0 else "",
        believed=believed,
        proxies="".join(f"{a} 1; " for a in proxies),
        scheme="$said" if settings.HTTPS else "$scheme",
        forms=FORMS,
        connections=int(os.environ.get("GOUGE_ADDRESS", "100")),
        checked="\n".join(checked),
    )
    file = folder / "nginx.conf"
    file.write_text(text)
    return file
