"""**Suppliers**: whom the shop buys from, on what terms, and their price lists coming in."""

from fastapi import APIRouter

from mirvel.web.suppliers import listing, price_list

router = APIRouter()
for part in (price_list, listing):
    router.include_router(part.router, prefix="/suppliers")
