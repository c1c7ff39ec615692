"""The API, one blueprint a feature; OpenAPI is generated from the routes' types."""

from aspectum.web.api import checking, exports, measuring, pictures, sheets

BLUEPRINTS = tuple(feature.blueprint for feature in (sheets, checking, measuring, pictures, exports))
