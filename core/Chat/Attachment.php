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
     * @param string|null $sha256     64 lower-case hexadecimal digits; null when there are no bytes or nobody hashed them
     * @param int|null    $durationMs length of a recording
     * @param int|null    $width      pixels
     * @param int|null    $height     pixels
     * @param string|null $preview    bytes of a small picture
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
    ) {
    }

    /**
     * All that has to be the same on the receiving side. The path is the platform's own affair, and a row that names
     * no file that could be read has arrived when the other side has none either.
     *
     * @return list<scalar|null>
     */
    public function canonical(): array
    {
        $readable = Presence::Present === $this->presence;

        return [
            $this->shownName, $this->mediaType, $readable ? $this->bytes : null, $this->sha256, $readable ? 'present' : 'absent',
            $this->durationMs, $this->width, $this->height, null === $this->preview ? null : hash('sha256', $this->preview),
        ];
    }
}
