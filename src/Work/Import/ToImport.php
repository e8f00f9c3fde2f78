<?php

declare(strict_types=1);

namespace Geschenk\App\Work\Import;

use Geschenk\App\Files\Upload\Uploads;
use Geschenk\App\Refusal;
use Geschenk\Core\Import\Importers;
use Geschenk\Core\Stick\StickHindrance;
use Geschenk\Core\Stick\Sticks;

/** Looks at what is to be imported, before anything is stored: a stick may take its time. */
final readonly class ToImport
{
    public function __construct(private Sticks $sticks, private Uploads $uploads, private Importers $importers)
    {
    }

    /**
     * @param string $id   of the stick
     * @param string $path on it; "" for all of it
     *
     * @throws Refusal
     * @throws StickHindrance
     */
    public function onStick(string $id, string $path): ImportWish
    {
        $stick = $this->sticks->find($id);
        if (null === $stick || !$stick->isThere()) {
            throw Refusal::because('no_such_stick');
        }
        $found = $this->importers->at($stick->folder(), $path) ?? throw Refusal::because('nothing_to_import');

        return new ImportWish($found, $stick->id(), $stick->label(), '' === $path ? $stick->label() : basename($path));
    }

    /**
     * @param string $id of what was sent
     * @param string $by who wants it: nobody else's is theirs
     *
     * @throws Refusal
     */
    public function sent(string $id, string $by): ImportWish
    {
        $upload = $this->uploads->of($id, $by);
        $this->uploads->isWhole($upload) ?: throw Refusal::because('upload_not_whole');
        $file = (string) $this->uploads->file($id);
        $found = $this->importers->at(dirname($file), basename($file)) ?? throw Refusal::because('nothing_to_import');

        return new ImportWish($found, '', '', $upload->name, $upload->id);
    }
}
