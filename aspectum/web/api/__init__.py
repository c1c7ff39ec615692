"""The API, one blueprint a feature; OpenAPI is generated from the routes' types."""

from aspectum.web.api import checking, exports, pictures, sheets

BLUEPRINTS = tuple(feature.blueprint for feature in (sheets, checking, pictures, exports))
