"""**Buckets**: what the shop buys and makes ahead, found by typing, with today's cost beside each."""

from fastapi import APIRouter

from mirvel.web.buckets import changing, export, ledger, one

router = APIRouter()
for part in (ledger, export, changing, one):
    router.include_router(part.router, prefix="/buckets")
