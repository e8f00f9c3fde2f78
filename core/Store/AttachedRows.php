<?php

declare(strict_types=1);

namespace Geschenk\Core\Store;

use Geschenk\Core\Chat\Attachment;

/** How the attachments of the plain messages of a foreign database are made. */
final readonly class AttachedRows
{
    /** @var \Closure(list<mixed>, int): Attachment */
    public \Closure $make;

    /**
     * @param string                                 $select what `$make` wants of a row called c, FROM `temp.ordering
     *                                                       o` and what it is joined with, WHERE all those rows of a
     *                                                       message are plain
     * @param callable(list<mixed>, int): Attachment $make   gets the row and its place among the message's attachments
     */
    public function __construct(public string $select, callable $make)
    {
        $this->make = $make(...);
    }
}
