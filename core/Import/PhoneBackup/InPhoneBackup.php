<?php

declare(strict_types=1);

namespace Geschenk\Core\Import\PhoneBackup;

use Geschenk\Core\Import\Lying;
use Geschenk\Core\Import\Whereabouts;
use Geschenk\Core\Messenger\WholePhone\Head;
use Geschenk\Core\Messenger\WholePhone\PhoneFiles;

/** A messenger's files in a computer's backup of a whole phone: each under a name that its index knows. */
final readonly class InPhoneBackup implements Whereabouts
{
    /**
     * @param string $folder    of the backup, below the root; "" for the root
     * @param string $messenger id of the one that is meant, as it is listed
     */
    public function __construct(private PhoneFiles $listed, private string $folder, private string $messenger)
    {
    }

    public function of(string $path): ?Lying
    {
        $file = $this->listed->file($this->messenger, $path);
        if (null === $file) {
            return null;
        }
        $below = '' === $this->folder ? '' : $this->folder.'/';
        $source = $below.Head::CONTENT.'/'.substr($file['content'], 0, 2).'/'.$file['content'];

        return new Lying($source, $file['sha256'], $file['key']);
    }
}
