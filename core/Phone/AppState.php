<?php

declare(strict_types=1);

namespace Geschenk\Core\Phone;

/** A messenger on a phone. What the phone does not show of it is null. */
final readonly class AppState
{
    /**
     * @param string      $id             names the app on the phone, for instance "otterpost"
     * @param string      $name           what people call it
     * @param string|null $number         E.164 number it is registered with; null when it is not registered
     * @param bool|null   $autoBackup     whether it backs itself up without being asked
     * @param bool|null   $storageAllowed whether it may read and write the phone's pictures and files
     * @param bool|null   $opened          whether it was opened since its chats were put there, and has prepared them
     * @param bool|null   $contactsAllowed whether it may read the phone's contacts
     * @param bool|null   $photosAllowed   whether it may read the phone's pictures, where that is asked for apart
     * @param SignUp|null $signUp          while a number is being registered in it
     * @param bool|null   $signedOut       whether it had a number that was registered elsewhere since
     * @param bool|null   $offersCloud     whether it asks if it shall fetch a backup of its own from the net
     */
    public function __construct(
        public string $id,
        public string $name,
        public string $version,
        public ?string $number,
        public ?bool $autoBackup = null,
        public ?bool $storageAllowed = null,
        public ?bool $opened = null,
        public ?bool $contactsAllowed = null,
        public ?bool $photosAllowed = null,
        public ?SignUp $signUp = null,
        public ?bool $signedOut = null,
        public ?bool $offersCloud = null,
    ) {
    }
}
