"""The API, one blueprint a feature; OpenAPI is generated from the routes' types."""

from aspectum.web.api import checking, drawings, easel, exports, measuring, pictures, plans, sheets, stands

BLUEPRINTS = tuple(feature.blueprint for feature in (sheets, checking, drawings, measuring, pictures, exports, easel, plans, stands))
