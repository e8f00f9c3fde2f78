<?php

declare(strict_types=1);

namespace Geschenk\Core\Chat\Content;

/** What a messenger showed of a page that the text links to. */
final readonly class LinkPreview implements Content
{
    public function __construct(public string $url, public ?string $title, public ?string $description)
    {
    }

    public function sort(): string
    {
        return 'link_preview';
    }

    public function toArray(): array
    {
        return ['url' => $this->url, 'title' => $this->title, 'description' => $this->description];
    }
}
