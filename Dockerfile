# The app for real use, from the same steps as the Makefile's (tests/test_packaging.py compares them):
#   docker build -t gouge . && docker run -p 8000:8000 -v gouge:/data -e GOUGE_HOSTS=localhost gouge
FROM python:3.11-slim-bookworm
RUN apt-get update -qq \
    && DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends libegl1 libgl1 nginx-light \
    && rm -rf /var/lib/apt/lists/*
WORKDIR /gouge
RUN pip install -q --no-cache-dir uv==0.13.9
COPY requirements.txt requirements-dev.txt ./
RUN uv pip install -q --system --no-cache -r requirements.txt \
    && uv pip install -q --system --no-cache -c requirements-dev.txt redis "django-storages[s3]"
COPY . .
RUN python -m outline.compile
ENV PYTHONUNBUFFERED=1 GOUGE_DATA=/data GOUGE_BIND=0.0.0.0:8000
VOLUME /data
EXPOSE 8000
HEALTHCHECK --interval=10s --timeout=5s --start-period=30s \
    CMD ["python", "-c", "from urllib.request import urlopen as u; u('http://127.0.0.1:8000/health', timeout=4)"]
CMD ["python", "manage.py", "serve"]
