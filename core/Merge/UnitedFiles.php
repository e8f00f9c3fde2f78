<?php

declare(strict_types=1);

namespace Geschenk\Core\Merge;

use Geschenk\Core\Chat\Presence;
use Geschenk\Core\Files\Content\AttachmentFiles;
use Geschenk\Core\Files\Locked\ContentKey;

/** The attachments of two sets of chats, each below a folder of its own: two phones may use one name for two files. */
final readonly class UnitedFiles implements AttachmentFiles
{
    public function __construct(private AttachmentFiles $brought, private AttachmentFiles $there)
    {
    }

    public static function path(string $side, string $path): string
    {
        return $side.'/'.$path;
    }

    public function look(string $path, string $mediaType, ?ContentKey $key = null): array
    {
        [$files, $own] = $this->side($path);

        return $files?->look($own, $mediaType, $key)
            ?? ['presence' => Presence::Missing, 'bytes' => 0, 'sha256' => null];
    }

    public function open(string $path, ?ContentKey $key = null): mixed
    {
        [$files, $own] = $this->side($path);

        return $files?->open($own, $key);
    }

    public function put(string $path, string $target, ?string $sha256 = null, ?ContentKey $key = null): bool
    {
        [$files, $own] = $this->side($path);

        return $files?->put($own, $target, $sha256, $key) ?? false;
    }

    /** @return array{AttachmentFiles|null, string} */
    private function side(string $path): array
    {
        [$side, $own] = [...explode('/', $path, 2), ''];

        return [match ($side) {
            MergeReport::BROUGHT => $this->brought,
            MergeReport::THERE => $this->there,
            default => null,
        }, $own];
    }
}
