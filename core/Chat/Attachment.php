<?php

declare(strict_types=1);

namespace Geschenk\Core\Chat;

/** A file that belongs to a message. The bytes stay outside; this says where they are and what they must be. */
final readonly class Attachment
{
    /**
     * @param string      $path       relative to the messenger's data folder, always with forward slashes
     * @param string|null $shownName  the name that the sender gave the file
     * @param int         $bytes      size of the file found; where there is none, the size that the row claims
     * @param string|null $sha256     64 lower-case hexadecimal digits; null when there are no bytes or nobody hashed
     *                                them
     * @param int|null    $durationMs length of a recording
     * @param int|null    $width      pixels
     * @param int|null    $height     pixels
     * @param string|null $preview    bytes of a small picture
     * @param bool        $isMotion   the few seconds of film that belong to the still before it
     */
    public function __construct(
        public string $path,
        public ?string $shownName,
        public string $mediaType,
        public int $bytes,
        public ?string $sha256,
        public Presence $presence,
        public ?int $durationMs = null,
        public ?int $width = null,
        public ?int $height = null,
        public ?string $preview = null,
        public bool $isMotion = false,
    ) {
    }

    /** The same file, as the film that belongs to the still before it. */
    public function asMotion(): self
    {
        return new self(
            $this->path, $this->shownName, $this->mediaType, $this->bytes, $this->sha256, $this->presence,
            $this->durationMs, $this->width, $this->height, $this->preview, true,
        );
    }

    /** The same file under another name, relative as before. */
    public function movedTo(string $path): self
    {
        return new self(
            $path, $this->shownName, $this->mediaType, $this->bytes, $this->sha256, $this->presence,
            $this->durationMs, $this->width, $this->height, $this->preview, $this->isMotion,
        );
    }

    public function lasting(?int $durationMs): self
    {
        return new self(
            $this->path, $this->shownName, $this->mediaType, $this->bytes, $this->sha256, $this->presence, $durationMs,
            $this->width, $this->height, $this->preview, $this->isMotion,
        );
    }

    /** The same file where it is not brought along: the receiving side knows that there was one, and how large. */
    public function leftBehind(): self
    {
        return new self(
            $this->path, $this->shownName, $this->mediaType, $this->bytes, null, Presence::Missing,
            $this->durationMs, $this->width, $this->height, $this->preview, $this->isMotion,
        );
    }

    /**
     * The same file, as somebody has found it.
     *
     * @param array{presence: Presence, bytes: int, sha256: string|null} $found
     */
    public function asFound(array $found): self
    {
        // Of what has none the size that was claimed is all that is known.
        $bytes = $found['presence']->hasBytes() ? $found['bytes'] : $this->bytes;

        return new self(
            $this->path, $this->shownName, $this->mediaType, $bytes, $found['sha256'], $found['presence'],
            $this->durationMs, $this->width, $this->height, $this->preview, $this->isMotion,
        );
    }

    /** The same file, as one that belongs to no still. */
    public function asStandalone(): self
    {
        return $this->isMotion
            ? new self(
                $this->path, $this->shownName, $this->mediaType, $this->bytes, $this->sha256, $this->presence,
                $this->durationMs, $this->width, $this->height, $this->preview,
            )
            : $this;
    }

    /**
     * All that has to be the same on the receiving side. The path is the platform's own affair. A file that is there
     * and empty arrives as such; one that could not be had (gone, unreadable, outside) has arrived when the other
     * side has none either and claims the same size for it.
     *
     * @return list<scalar|null>
     */
    public function canonical(): array
    {
        $there = $this->presence->hasFile();

        return [
            $this->shownName, $this->mediaType, $this->bytes, $this->sha256, $there
                ? $this->presence->canonical()
                : 'absent',
            $this->durationMs, $this->width, $this->height, null === $this->preview
                ? null
                : hash('sha256', $this->preview), $this->isMotion,
        ];
    }
}
